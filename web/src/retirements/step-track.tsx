import type { Retirement } from '@unvelt/contract'
import { STEP_WORDS } from './retirement-words.js'

/** All steps in a row: filled is done, ringed is the one to be done. */
export function StepTrack({ steps }: { steps: Retirement['steps'] }) {
  const done = steps.filter(({ state }) => state === 'done').length
  return (
    <span role="img" aria-label={`${done} of ${steps.length} steps done`} className="flex items-center gap-1">
      {steps.map(({ step, state }) => (
        <span
          key={step}
          title={STEP_WORDS[step].name}
          className={`h-2.5 w-5 border ${
            state === 'done'
              ? 'border-verdigris bg-verdigris'
              : state === 'now'
                ? 'border-2 border-verdigris'
                : 'border-line'
          }`}
        />
      ))}
    </span>
  )
}
