import { SlidersHorizontal } from 'lucide-react'
import { Popover, RadioGroup } from 'radix-ui'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { DEFAULT_REPEATS, type Site } from '@unvelt/contract'
import { useLenses, type useStartSweep } from '../api/queries.js'
import { lensWords } from '../lenses/lens-words.js'
import { Button } from '../parts/button.js'

const MOST_REPEATS = 50

/** What a sweep is to be like: through which lens, and how often each page is read. */
export function SweepSetup({ site, start }: { site: Site; start: ReturnType<typeof useStartSweep> }) {
  const [open, setOpen] = useState(false)
  const { data: lenses = [] } = useLenses(site.id)
  const [chosen, setChosen] = useState<number | null>(null)
  const [repeats, setRepeats] = useState(DEFAULT_REPEATS)
  const lensId = chosen ?? lenses[0]?.id
  const begin = () => {
    setOpen(false)
    start.mutate(
      { repeats, ...(lensId !== undefined && { lensId }) },
      { onError: (error) => toast.error(error.message) },
    )
  }
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button weight="main" aria-label="Set up a sweep" className="px-2">
          <SlidersHorizontal size={15} aria-hidden />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={6} className="z-20 w-96 border border-line bg-sheet p-4">
          <h2 className="text-[17px]">A sweep</h2>
          <RadioGroup.Root
            aria-label="Lens"
            value={String(lensId ?? '')}
            onValueChange={(value) => setChosen(Number(value))}
            className="mt-2 grid max-h-72 gap-px overflow-auto"
          >
            {lenses.map((lens) => (
              <RadioGroup.Item
                key={lens.id}
                value={String(lens.id)}
                className="border-l-2 border-transparent px-2.5 py-1.5 text-left hover:bg-wash data-[state=checked]:border-verdigris data-[state=checked]:bg-wash"
              >
                <span className="font-medium">{lens.name}</span>
                <span className="figures block text-[12.5px] text-soft">{lensWords(lens)}</span>
              </RadioGroup.Item>
            ))}
          </RadioGroup.Root>
          <label className="mt-3 flex items-center gap-3">
            Read each page
            <input
              type="number"
              min={1}
              max={MOST_REPEATS}
              value={repeats}
              onChange={(event) => setRepeats(Number(event.target.value))}
              className="figures h-8 w-16 border border-line bg-paper px-2"
            />
            times
          </label>
          <div className="mt-4 flex items-center justify-between">
            <Link
              to={`/sites/${site.id}/settings`}
              onClick={() => setOpen(false)}
              className="text-verdigris hover:underline"
            >
              Lenses …
            </Link>
            <Button weight="main" disabled={!(repeats >= 1 && repeats <= MOST_REPEATS)} onClick={begin}>
              Start the sweep
            </Button>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
