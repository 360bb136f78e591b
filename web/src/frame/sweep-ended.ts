import { useSearchParams } from 'react-router'
import { toast } from 'sonner'
import type { Sweep } from '@unvelt/contract'
import { plural } from '../figures/format.js'

const SHOWN_MS = 12_000

/** Says that a sweep has ended and offers its figures, since what is looked at need not be what was read. */
export function useSaySweepEnded(): (sweep: Sweep) => void {
  const [, setSearch] = useSearchParams()
  return ({ id, pages, readings, readingsFailed }) => {
    const show = () => setSearch((old) => new URLSearchParams({ ...Object.fromEntries(old), sweep: String(id) }))
    toast(`Sweep ${id} has ended: ${plural(pages, 'page')}, ${readingWords(readings, readingsFailed)}.`, {
      action: { label: 'Show it', onClick: show },
      duration: SHOWN_MS,
    })
  }
}

const readingWords = (all: number, failed: number) =>
  failed === 0 ? plural(all, 'reading') : `${failed} of ${plural(all, 'reading')} failed`
