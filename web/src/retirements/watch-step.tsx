import { useRetire } from '../api/retirements.js'
import { dateTime, plural } from '../figures/format.js'
import { SearchedFor } from './searched-for.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { useDo } from './site-steps.js'
import type { StepProps } from './step-list.js'

const DAYS = [0, 1, 3, 7, 14, 30, 60, 90]

/** How long it is watched, and what was missed meanwhile. */
export function WatchStep({ siteId, sheet, isNow }: StepProps) {
  const retire = useRetire(siteId)
  const { ask, isPending } = useDo(siteId, sheet.id)
  const { id, watchDays, watchUntil, missed, lookedAt, finishedAt, hasConnector } = sheet
  if (sheet.wasGone) return null
  const days = DAYS.includes(watchDays) ? DAYS : [...DAYS, watchDays].sort((a, b) => a - b)
  return (
    <>
      <p className="flex flex-wrap items-center gap-2 text-[13.5px]">
        <label className="flex items-center gap-2">
          for
          <select
            value={watchDays}
            disabled={finishedAt !== null || retire.isPending}
            onChange={(event) =>
              retire.mutate(
                { id, change: { watchDays: Number(event.target.value) } },
                { onError: (error) => toast.error(error.message) },
              )
            }
            className="h-7 border border-line bg-paper px-1.5"
          >
            {days.map((n) => (
              <option key={n} value={n}>
                {n === 0 ? 'no time' : plural(n, 'day')}
              </option>
            ))}
          </select>
        </label>
        {watchUntil && <span className="text-soft">until {dateTime(watchUntil)}</span>}
        {hasConnector && sheet.offAt && finishedAt === null && (
          <Button
            weight={isNow ? 'plain' : 'quiet'}
            disabled={isPending || sheet.doing !== null}
            onClick={() => ask('look')}
          >
            Look what is missed
          </Button>
        )}
        {lookedAt && sheet.offAt && <span className="text-soft">looked {dateTime(lookedAt)}</span>}
      </p>
      {missed.length > 0 && (
        <ul aria-label="Missed" className="mt-1 text-[13.5px] text-plum">
          {missed.map(({ path, times, from }) => (
            <li key={path} className="[overflow-wrap:anywhere]">
              {path} asked for {plural(times, 'time')}
              {from.length > 0 && <span className="text-soft"> from {from.join(', ')}</span>}
            </li>
          ))}
        </ul>
      )}
      {lookedAt && sheet.offAt && missed.length === 0 && (
        <p className="text-[13.5px] text-soft">Nobody has asked for its files in vain since.</p>
      )}
      {hasConnector && sheet.offAt && <SearchedFor siteId={siteId} sheet={sheet} />}
    </>
  )
}
