import type { Site, Standing } from '@unvelt/contract'
import { useStartSweep } from '../api/queries.js'
import { count, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'

/** A part of the pages this small is no reason to doubt the whole. */
const FEW = 0.1

/** Says when repeats differ too much to tell times, and offers as many as would likely do. */
export function Noise({ site, standing: { noise, sweep } }: { site: Site; standing: Standing }) {
  const start = useStartSweep(site.id)
  if (!noise || !sweep || noise.repeatsNeeded === null || noise.tooNoisy <= noise.pages * FEW) return null
  const repeats = noise.repeatsNeeded
  return (
    <p className="mt-3 max-w-3xl text-soft">
      On {count(noise.tooNoisy)} of {plural(noise.pages, 'page')} the {plural(sweep.repeats, 'repeat')}{' '}
      {sweep.repeats === 1 ? 'can’t tell' : 'differ too much to tell'} the load time to a tenth. Requests and bytes are
      not touched by that.{' '}
      <Button
        weight="quiet"
        disabled={start.isPending}
        onClick={() =>
          start.mutate(
            { repeats, ...(sweep.lensId !== null && { lensIds: [sweep.lensId] }) },
            { onError: (error) => toast.error(error.message) },
          )
        }
      >
        Sweep with {repeats} repeats
      </Button>
    </p>
  )
}
