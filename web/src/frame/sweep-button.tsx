import type { Site, Sweep } from '@unvelt/contract'
import { useChangeSweep, useStartSweep, useSweeps, type SweepAct } from '../api/queries.js'
import { plural, timeLeft } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { SweepSetup } from './sweep-setup.js'

/** Starts a sweep; while one runs, shows how far it is and which page is being read, and cancels it. */
export function SweepButton({ site }: { site: Site }) {
  const { data: sweeps = [], isPending } = useSweeps(site.id)
  const start = useStartSweep(site.id)
  const change = useChangeSweep(site.id)
  // Those that run come first; a paused one waits as long as it takes. Through several lenses several run.
  const running = sweeps.filter((sweep) => sweep.status === 'running')
  const underWay = running.length > 0 ? running : sweeps.filter((sweep) => sweep.status === 'paused')
  if (underWay.length === 0)
    return (
      <div className="flex gap-px">
        <Button
          weight="main"
          // Whether one is under way already must be known first.
          disabled={start.isPending || isPending}
          onClick={() => start.mutate(undefined, { onError: (error) => toast.error(error.message) })}
        >
          <span>
            Sweep <span className="max-md:sr-only">{plural(site.pages, 'page')}</span>
          </span>
        </Button>
        <SweepSetup site={site} start={start} />
      </div>
    )
  const paused = running.length === 0
  const act = (act: SweepAct) => () => {
    for (const { id } of underWay) change.mutate({ sweep: id, act }, { onError: (error) => toast.error(error.message) })
  }
  const why = underWay.find((sweep) => sweep.why !== null)?.why ?? null
  const sum = (of: (sweep: Sweep) => number) => underWay.reduce((total, sweep) => total + of(sweep), 0)
  // What was taken over is not read.
  const takenOver = sum((sweep) => (sweep.takenOver?.pages ?? 0) * sweep.repeats)
  const readings = sum((sweep) => sweep.readings) - takenOver
  const planned = sum((sweep) => sweep.readingsPlanned) - takenOver
  const atPages = underWay.flatMap((sweep) => sweep.atPages)
  // Those that wait for their turn go on at the pace of the one that is read.
  const reading = underWay.find((sweep) => sweep.secondsLeft !== null)
  const left = reading?.secondsLeft
  const paced =
    reading && left != null
      ? (left / Math.max(1, reading.readingsPlanned - reading.readings)) * (planned - readings)
      : null
  return (
    <div className="flex items-center gap-2" aria-label="Sweep under way" role="group">
      <div className="w-72 max-md:w-36">
        <p className="flex justify-between gap-3 text-[12.5px] leading-tight">
          <span className="truncate" data-testid="at-page" title={why ?? (paused ? undefined : atPages.join('\n'))}>
            {paused
              ? why
                ? 'Stands still'
                : 'Paused'
              : atPages.length === 0 && why
                ? 'No worker is running'
                : atHand(atPages)}
          </span>
          <span className="figures whitespace-nowrap text-soft">
            {readings} of {planned}
            {paced !== null && !paused && `, ${timeLeft(paced)}`}
          </span>
        </p>
        <div
          role="progressbar"
          aria-label="Readings taken"
          aria-valuenow={readings}
          aria-valuemax={planned}
          className="mt-1 h-[3px] bg-line"
        >
          <div className="h-full bg-verdigris transition-[width]" style={{ width: `${(readings / planned) * 100}%` }} />
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

function atHand(paths: string[]): string {
  if (paths.length === 0) return 'Waiting for a worker'
  return paths.length === 1 ? `Reading ${paths[0]}` : `Reading ${plural(paths.length, 'page')}`
}
