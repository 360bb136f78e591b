import { Check } from 'lucide-react'
import type { ReactNode } from 'react'
import type { Retirement, RetirementSheet } from '@unvelt/contract'
import { LeftoversStep } from './leftovers-step.js'
import { OffStep, RemovalStep, SnapshotStep } from './site-steps.js'
import { RehearsalStep } from './rehearsal-step.js'
import { STEP_WORDS } from './retirement-words.js'
import { SuccessorStep } from './successor-step.js'
import { UseStep } from './use-step.js'
import { WatchStep } from './watch-step.js'
import { WordStep } from './word-step.js'

type Step = Retirement['steps'][number]['step']

export interface StepProps {
  siteId: number
  sheet: RetirementSheet
  /** Whether this is the step to be done, and may be worked on. */
  isNow: boolean
}

const PARTS: Partial<Record<Step, (props: StepProps) => ReactNode>> = {
  use: UseStep,
  successor: SuccessorStep,
  word: WordStep,
  snapshot: SnapshotStep,
  rehearsal: RehearsalStep,
  off: OffStep,
  watch: WatchStep,
  removal: RemovalStep,
  leftovers: LeftoversStep,
}

/** Features have no successor of their own, and leave nothing behind while their add-on stays. */
const OF_THE_WHOLE: ReadonlySet<Step> = new Set(['needs', 'successor', 'removal', 'leftovers'])

/** Every step with its evidence. A tick is set by the facts, and by nobody. */
export function StepList({ siteId, sheet }: { siteId: number; sheet: RetirementSheet }) {
  return (
    <ol aria-label="Steps">
      {sheet.steps
        .filter(({ step }) => !sheet.features || !OF_THE_WHOLE.has(step))
        .map(({ step, state, why }, n) => {
          const Part = PARTS[step]
          const isOpen = sheet.state === 'open' && sheet.doing === null
          return (
            <li
              key={step}
              aria-current={state === 'now' ? 'step' : undefined}
              className={`grid grid-cols-[2rem_11rem_minmax(0,1fr)] gap-x-3 border-b border-line/70 px-4 py-2.5 ${state === 'now' ? 'bg-sheet' : ''}`}
            >
              <span
                role="img"
                aria-label={state === 'done' ? 'done' : 'not done'}
                className={`figures mt-0.5 flex size-6 items-center justify-center border text-[12.5px] ${
                  state === 'done'
                    ? 'border-verdigris bg-verdigris text-on-verdigris'
                    : state === 'now'
                      ? 'border-2 border-verdigris'
                      : 'border-line text-soft'
                }`}
              >
                {state === 'done' ? <Check size={15} aria-hidden /> : n + 1}
              </span>
              <h2 className={`text-[15.5px] ${state === 'later' ? 'text-soft' : ''}`}>{STEP_WORDS[step].name}</h2>
              <div className="min-w-0">
                <p className={state === 'now' ? '' : 'text-soft'}>
                  {state === 'done' ? capital(STEP_WORDS[step].means) : (why ?? capital(STEP_WORDS[step].means))}
                </p>
                {Part && <Part siteId={siteId} sheet={sheet} isNow={state === 'now' && isOpen} />}
              </div>
            </li>
          )
        })}
    </ol>
  )
}

const capital = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`
