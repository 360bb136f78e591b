import { useState, type FormEvent } from 'react'
import type { Site } from '@unvelt/contract'
import { useChangeSite } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { NumberInput } from '../parts/number-input.js'
import { toast } from '../parts/toast.js'

const MOST = 50

/** Below which share of a figure a difference is too small to matter. */
export function LeastDifference({ site }: { site: Site }) {
  const change = useChangeSite(site.id)
  const set = Math.round(site.leastDifference * 100)
  const [percent, setPercent] = useState(set)
  const save = (event: FormEvent) => {
    event.preventDefault()
    change.mutate(
      { leastDifference: percent / 100 },
      {
        onError: (error) => toast.error(error.message),
        onSuccess: () => toast(`Differences under ${percent} % are now called too small to matter.`),
      },
    )
  }
  return (
    <section className="px-4 pt-6" aria-label="Differences">
      <h2 className="text-[17px]">Differences</h2>
      <form onSubmit={save} className="flex items-end justify-between gap-6">
        <label className="flex items-center gap-2 text-soft">
          A measured difference is called too small to matter under
          <NumberInput value={percent} least={0} most={MOST} onChange={setPercent} />% of what the figure was.
        </label>
        <Button type="submit" disabled={percent === set || !(percent >= 0 && percent <= MOST) || change.isPending}>
          Save
        </Button>
      </form>
    </section>
  )
}
