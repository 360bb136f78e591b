import type { Drafts } from '@unvelt/contract'
import { useAside, useGentler } from '../api/culprits.js'
import { dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { Gentler } from './gentler.js'
import { conditionWords, doingWords, placeWords, subjectWords } from './words.js'

/** Drafts that break something: neither rehearsed nor put live until somebody takes them up again. */
export function SetAside({ siteId, aside }: { siteId: number; aside: Drafts['aside'] }) {
  const change = useAside(siteId)
  const { data: searches = [] } = useGentler(siteId, aside.length > 0)
  if (aside.length === 0) return null
  const onError = (error: Error) => toast.error(error.message)
  return (
    <section aria-label="Set aside" className="border-t border-line pb-2">
      <h2 className="px-4 pt-4 pb-1 text-[17px]">{plural(aside.length, 'draft')} set aside</h2>
      <ul>
        {aside.map(({ rule, why, at }) => (
          <li key={rule.id} className="flex items-start gap-4 border-t border-line/60 px-4 py-1.5">
            <div className="min-w-0 flex-1">
              <p>
                <b className="font-semibold">{subjectWords(rule)}</b> {doingWords(rule)}{' '}
                {[placeWords(rule.place), conditionWords(rule)].filter(Boolean).join(', ')}
              </p>
              <p className="text-[13px] [overflow-wrap:anywhere] text-plum">{why}</p>
              <Gentler siteId={siteId} rule={rule} search={searches.find(({ draftId }) => draftId === rule.id)} />
            </div>
            <span className="figures text-[12.5px] whitespace-nowrap text-soft">{dateTime(at)}</span>
            <Button
              weight="quiet"
              disabled={change.isPending}
              onClick={() => change.mutate({ id: rule.id, keep: true }, { onError })}
            >
              Take up again
            </Button>
            <Button
              weight="quiet"
              aria-label={`Throw away what was set aside of ${rule.addonName}`}
              disabled={change.isPending}
              onClick={() => change.mutate({ id: rule.id, keep: false }, { onError })}
            >
              Throw away
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
