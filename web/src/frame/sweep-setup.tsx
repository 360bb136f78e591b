import { SlidersHorizontal } from 'lucide-react'
import { lazy, Suspense, useState } from 'react'
import { DEFAULT_REPEATS, type Site } from '@unvelt/contract'
import type { useStartSweep } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { PopUp } from '../parts/pop-up.js'
import type { SweepChoice } from './sweep-form.js'

const bring = () => import('./sweep-form.js')
const SweepForm = lazy(async () => ({ default: (await bring()).SweepForm }))

/** Opens what sets a sweep up, which comes when somebody is about to use it. What was chosen stays while the place does. */
export function SweepSetup({ site, start }: { site: Site; start: ReturnType<typeof useStartSweep> }) {
  const [choice, setChoice] = useState<SweepChoice>({
    lenses: null,
    repeats: DEFAULT_REPEATS,
    withoutRules: false,
    pages: { which: 'all' },
  })
  return (
    <PopUp
      align="end"
      className="flex max-h-[calc(100dvh-70px)] w-[29rem] flex-col"
      bringMore={bring}
      button={
        <Button weight="main" aria-label="Set up a sweep" className="px-2">
          <SlidersHorizontal size={15} aria-hidden />
        </Button>
      }
    >
      {(close) => (
        <Suspense fallback={<p className="p-4 text-soft">One moment …</p>}>
          <SweepForm site={site} choice={choice} onChoose={setChoice} start={start} onDone={close} />
        </Suspense>
      )}
    </PopUp>
  )
}
