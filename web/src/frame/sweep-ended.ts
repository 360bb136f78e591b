import type { Sweep } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { toast } from '../parts/toast.js'
import { useShowSweep } from './show-sweep.js'

const SHOWN_MS = 12_000

/** Says that a sweep has ended and offers its figures, since what is looked at need not be what was read. */
export function useSaySweepEnded(): (sweep: Sweep) => void {
  const show = useShowSweep()
  return ({ id, pages, readings, readingsFailed }) => {
    toast(`Sweep ${id} has ended: ${plural(pages, 'page')}, ${readingWords(readings, readingsFailed)}.`, {
      action: { label: 'Show it', onClick: () => show(id) },
      duration: SHOWN_MS,
    })
  }
}

const readingWords = (all: number, failed: number) =>
  failed === 0 ? plural(all, 'reading') : `${failed} of ${plural(all, 'reading')} failed`
