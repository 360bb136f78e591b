import { Switch } from 'radix-ui'
import { Link } from 'react-router'
import type { Preview } from '@unvelt/contract'
import { useDrafts } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { conditionWords, doingWords, placeWords, subjectWords } from '../rules/words.js'

interface DraftSwitchesProps {
  siteId: number
  preview: Preview
  isPending: boolean
  onChange(off: string[]): void
}

/** The drafts, each to be switched off and on for this preview alone. */
export function DraftSwitches({ siteId, preview, isPending, onChange }: DraftSwitchesProps) {
  const drafts = useDrafts(siteId)
  if (drafts.isPending) return <Loading what="the drafts" />
  if (drafts.isError) return <Failed error={drafts.error} retry={() => void drafts.refetch()} />
  const { rules } = drafts.data
  if (rules.length === 0)
    return (
      <div className="px-4 py-4">
        <h2 className="text-[17px]">No drafts</h2>
        <p className="mt-1 text-soft">
          The page is shown under the rules that are live. What you draft in the{' '}
          <Link to={`/sites/${siteId}/ledger`} className="text-verdigris underline underline-offset-2">
            ledger
          </Link>{' '}
          can be tried here.
        </p>
      </div>
    )
  const off = new Set(preview.off)
  const on = rules.filter(({ id }) => !off.has(id)).length
  return (
    <section aria-label="Drafts" className="px-4 py-4">
      <div className="flex items-baseline justify-between gap-2">
        <h2 className="text-[17px]">
          {on === rules.length ? plural(on, 'draft') : `${on} of ${plural(rules.length, 'draft')}`}
        </h2>
        <Button
          weight="quiet"
          className="-mr-3"
          disabled={isPending}
          onClick={() => onChange(on === 0 ? [] : rules.map(({ id }) => id))}
        >
          {on === 0 ? 'With all' : 'Without any'}
        </Button>
      </div>
      <ul className="mt-1">
        {rules.map((rule) => (
          <li key={rule.id} className="border-t border-line/60">
            <label className="grid cursor-pointer grid-cols-[minmax(0,1fr)_auto] items-center gap-3 py-2">
              <span className={off.has(rule.id) ? 'text-soft' : ''}>
                <b className="font-semibold">{subjectWords(rule)}</b>
                <span className="block text-[13px] text-soft">
                  {doingWords(rule)} {[placeWords(rule.place), conditionWords(rule)].filter(Boolean).join(', ')}
                </span>
              </span>
              <Switch.Root
                aria-label={`Try the draft on ${rule.addonName}`}
                checked={!off.has(rule.id)}
                disabled={isPending}
                onCheckedChange={(checked) =>
                  onChange(checked ? preview.off.filter((id) => id !== rule.id) : [...preview.off, rule.id])
                }
                className="h-5 w-9 border border-verdigris/60 p-px data-[state=checked]:bg-verdigris"
              >
                <Switch.Thumb className="block size-4 bg-verdigris data-[state=checked]:translate-x-4 data-[state=checked]:bg-on-verdigris" />
              </Switch.Root>
            </label>
          </li>
        ))}
      </ul>
    </section>
  )
}
