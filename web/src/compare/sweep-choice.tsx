import type { Site, Sweep } from '@unvelt/contract'
import { dateTime, plural } from '../figures/format.js'

interface SweepChoiceProps {
  label: string
  sites: Site[]
  /** Whose sweeps are to choose from. */
  siteId: number
  sweeps: Sweep[]
  chosen: number | null
  onSite: (site: number) => void
  onChoose: (sweep: number) => void
}

const BOX = 'h-9 min-w-0 border border-line bg-sheet px-2 text-[15px]'

/** One of the sweeps of this site, or of another that Unvelt knows. */
export function SweepChoice({ label, sites, siteId, sweeps, chosen, onSite, onChoose }: SweepChoiceProps) {
  return (
    <fieldset className="grid min-w-0 gap-1">
      <legend className="pb-1 text-[13px] text-soft">{label}</legend>
      <div className="flex min-w-0 gap-2 max-md:flex-wrap">
        {sites.length > 1 && (
          <select
            aria-label={`Site, ${label.toLowerCase()}`}
            className={`${BOX} max-w-[40%] max-md:max-w-full`}
            value={siteId}
            onChange={({ target }) => onSite(Number(target.value))}
          >
            {sites.map((site) => (
              <option key={site.id} value={site.id}>
                {site.name} ({new URL(site.address).host})
              </option>
            ))}
          </select>
        )}
        <select
          aria-label={`Sweep, ${label.toLowerCase()}`}
          className={`${BOX} flex-1`}
          value={chosen ?? ''}
          disabled={sweeps.length === 0}
          onChange={({ target }) => onChoose(Number(target.value))}
        >
          {sweeps.length === 0 && <option value="">not swept yet</option>}
          {sweeps.map((sweep) => (
            <option key={sweep.id} value={sweep.id}>
              {wordsOf(sweep)}
            </option>
          ))}
        </select>
      </div>
    </fieldset>
  )
}

const wordsOf = ({ id, startedAt, lens, pages, withoutRules, status }: Sweep): string =>
  [
    `Sweep ${id}, ${dateTime(startedAt)}`,
    lens,
    plural(pages, 'page'),
    withoutRules && 'rules set aside',
    status !== 'done' && (status === 'running' ? 'still reading' : status),
  ]
    .filter(Boolean)
    .join(' · ')
