import { Link } from 'react-router'
import { useRehearsals, useRehearse, useStopRehearsal } from '../api/rehearsals.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { isBad, rehearsalWords } from './rehearsal-words.js'
import { isOfDrafts } from './rehearsal-words.js'

/** In the draft tray: begins a rehearsal, shows how far one is, and what the newest of these drafts came to. */
export function RehearseButton({ siteId, disabled }: { siteId: number; disabled: boolean }) {
  const { data: rehearsals = [] } = useRehearsals(siteId)
  const rehearse = useRehearse(siteId)
  const stop = useStopRehearsal(siteId)
  // That guards are played on what is live is told where the change is.
  const running = rehearsals.find(({ state, deploymentId }) => state === 'running' && deploymentId === null)
  const newest = rehearsals.find((one) => one.state === 'done' && one.stale === null && isOfDrafts(one))
  const onError = (error: Error) => toast.error('Nothing is rehearsed', { description: error.message })
  if (running)
    return (
      <>
        <Link
          to={`/sites/${siteId}/rules/rehearsals/${running.id}`}
          className="grid gap-0.5 text-[13px] text-verdigris hover:underline"
        >
          <span aria-live="polite">{rehearsalWords(running)}</span>
          <span
            role="progressbar"
            aria-label="Rehearsal"
            aria-valuemax={running.pages}
            aria-valuenow={running.pagesDone}
            className="block h-[3px] w-36 bg-line"
          >
            <span
              className="block h-full bg-verdigris"
              style={{ width: `${(100 * running.pagesDone) / Math.max(1, running.pages)}%` }}
            />
          </span>
        </Link>
        <Button weight="quiet" disabled={stop.isPending} onClick={() => stop.mutate(running.id, { onError })}>
          Stop
        </Button>
      </>
    )
  return (
    <>
      {newest && (
        <Link
          to={`/sites/${siteId}/rules/rehearsals/${newest.id}`}
          className={`text-[13px] hover:underline ${isBad(newest) ? 'text-plum' : 'text-verdigris'}`}
        >
          Rehearsed: {rehearsalWords(newest)}
        </Link>
      )}
      <Button disabled={disabled || rehearse.isPending} onClick={() => rehearse.mutate({}, { onError })}>
        {newest ? 'Rehearse again' : 'Rehearse'}
      </Button>
    </>
  )
}
