import { SlidersHorizontal } from 'lucide-react'
import { Popover } from 'radix-ui'
import { lazy, Suspense, useState } from 'react'
import { DEFAULT_REPEATS, type Site } from '@unvelt/contract'
import type { useStartSweep } from '../api/queries.js'
import { Button } from '../parts/button.js'
import type { SweepChoice } from './sweep-form.js'

const bring = () => import('./sweep-form.js')
const SweepForm = lazy(async () => ({ default: (await bring()).SweepForm }))

/** Opens what sets a sweep up, which comes when somebody is about to use it. What was chosen stays while the place does. */
export function SweepSetup({ site, start }: { site: Site; start: ReturnType<typeof useStartSweep> }) {
  const [open, setOpen] = useState(false)
  const [choice, setChoice] = useState<SweepChoice>({
    lenses: null,
    repeats: DEFAULT_REPEATS,
    withoutRules: false,
    pages: { which: 'all' },
  })
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button
          weight="main"
          aria-label="Set up a sweep"
          className="px-2"
          onPointerEnter={() => void bring()}
          onFocus={() => void bring()}
        >
          <SlidersHorizontal size={15} aria-hidden />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          className="z-20 flex max-h-[calc(100dvh-70px)] w-[29rem] flex-col border border-line bg-sheet"
        >
          <Suspense fallback={<p className="p-4 text-soft">One moment …</p>}>
            <SweepForm site={site} choice={choice} onChoose={setChoice} start={start} onDone={() => setOpen(false)} />
          </Suspense>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
