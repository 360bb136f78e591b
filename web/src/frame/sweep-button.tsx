import { toast } from 'sonner'
import type { Site } from '@unvelt/contract'
import { useChangeSweep, useStartSweep, useSweeps, type SweepAct } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { SweepSetup } from './sweep-setup.js'

/** Starts a sweep; while one runs, shows how far it is and which page is being read, and cancels it. */
export function SweepButton({ site }: { site: Site }) {
  const { data: sweeps = [] } = useSweeps(site.id)
  const start = useStartSweep(site.id)
  const change = useChangeSweep(site.id)
  // One that runs comes first; a paused one waits as long as it takes.
  const running =
    sweeps.find((sweep) => sweep.status === 'running') ?? sweeps.find((sweep) => sweep.status === 'paused')
  if (!running)
    return (
      <div className="flex gap-px">
        <Button
          weight="main"
          disabled={start.isPending}
          onClick={() => start.mutate(undefined, { onError: (error) => toast.error(error.message) })}
        >
          Sweep {site.pages} pages
        </Button>
        <SweepSetup site={site} start={start} />
      </div>
    )
  const paused = running.status === 'paused'
  const act = (act: SweepAct) => () =>
    change.mutate({ sweep: running.id, act }, { onError: (error) => toast.error(error.message) })
  const share = running.readings / running.readingsPlanned
  return (
    <div className="flex items-center gap-2" aria-label="Sweep under way" role="group">
      <div className="w-48">
        <p className="flex justify-between gap-3 text-[12.5px] leading-tight">
          <span className="truncate" data-testid="at-page">
            {paused ? 'Paused' : running.atPage === null ? 'Waiting for a worker' : `Reading ${running.atPage}`}
          </span>
          <span className="figures whitespace-nowrap text-soft">
            {running.readings} of {running.readingsPlanned}
          </span>
        </p>
        <div
          role="progressbar"
          aria-label="Readings taken"
          aria-valuenow={running.readings}
          aria-valuemax={running.readingsPlanned}
          className="mt-1 h-[3px] bg-line"
        >
          <div className="h-full bg-verdigris transition-[width]" style={{ width: `${share * 100}%` }} />
        </div>
      </div>
      <Button disabled={change.isPending} onClick={act(paused ? 'resume' : 'pause')}>
        {paused ? 'Resume' : 'Pause'}
      </Button>
      <Button weight="quiet" disabled={change.isPending} onClick={act('cancel')}>
        Cancel
      </Button>
    </div>
  )
}
