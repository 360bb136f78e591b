import type { RulesAtSite, RuleView, Site } from '@unvelt/contract'
import { useRulesAtSite, useSettleRules, useUnderWay } from '../api/deployments.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { effectWords, placeWords, subjectWords } from './words.js'

const differs = ({ siteVersion, ourVersion, onlyAtSite, onlyOurs }: RulesAtSite) =>
  siteVersion !== ourVersion || onlyAtSite.length + onlyOurs.length > 0

/** Where the site has other rules than were put there last: what differs, and which of the two is to hold. */
export function AtSiteNotice({ site }: { site: Site }) {
  const underWay = useUnderWay(site.id)
  const atSite = useRulesAtSite(site.id, site.hasConnector && !underWay)
  const settle = useSettleRules(site.id)
  if (atSite.isError)
    return (
      <p role="status" className="border-b border-line px-4 py-2 text-soft">
        Whether the site still has these rules can’t be told: {atSite.error.message}
      </p>
    )
  if (!atSite.data || underWay || !differs(atSite.data)) return null
  const { siteVersion, ourVersion, onlyAtSite, onlyOurs } = atSite.data
  const by = (by: 'adopt' | 'restore') => () =>
    settle.mutate(
      { by, siteVersion },
      {
        onSuccess: ({ what }) => toast.success(by === 'adopt' ? what : `${what} …`),
        onError: (error) => toast.error('Nothing was changed', { description: error.message }),
      },
    )
  return (
    <section aria-label="Other rules at the site" className="border-b-2 border-plum bg-sheet px-4 py-3">
      <h2 className="text-[17px]">
        The site is at version {siteVersion}; Unvelt last put {ourVersion === 0 ? 'none' : `version ${ourVersion}`}.
      </h2>
      <p className="mt-1 max-w-3xl text-soft">
        {onlyAtSite.length + onlyOurs.length === 0
          ? 'The rules are the same; only the number differs. Somebody has put them once more.'
          : 'Somebody else has changed them, or a change of Unvelt’s was broken off. Nothing can be put live until it is settled which hold.'}
      </p>
      <div className="mt-2 grid max-w-5xl grid-cols-2 gap-8">
        <Side title="Only at the site" rules={onlyAtSite} />
        <Side title="Only here" rules={onlyOurs} />
      </div>
      <div className="mt-3 flex gap-2">
        <Button disabled={settle.isPending} onClick={by('adopt')}>
          Adopt the site’s
        </Button>
        <Button weight="danger" disabled={settle.isPending} onClick={by('restore')}>
          Put {ourVersion === 0 ? 'no rules' : `version ${ourVersion}`} back over them
        </Button>
      </div>
    </section>
  )
}

const MOST_SHOWN = 8

function Side({ title, rules }: { title: string; rules: RuleView[] }) {
  return (
    <div>
      <h3 className="border-b border-line pb-1 text-[12.5px] text-soft">
        {title}: {plural(rules.length, 'rule')}
      </h3>
      <ul>
        {rules.slice(0, MOST_SHOWN).map((rule) => (
          <li key={rule.id} className="border-b border-line/60 py-1">
            <b className="font-semibold">{subjectWords(rule)}</b> {effectWords(rule)} {placeWords(rule.place)}
          </li>
        ))}
      </ul>
      {rules.length > MOST_SHOWN && <p className="pt-1 text-soft">and {rules.length - MOST_SHOWN} more</p>}
    </div>
  )
}
