export const RETIREMENT_STEPS = [
  'use',
  'needs',
  'successor',
  'word',
  'snapshot',
  'rehearsal',
  'off',
  'watch',
  'removal',
  'leftovers',
  'proof',
] as const
export type RetirementStep = (typeof RETIREMENT_STEPS)[number]

/** All that decides how far a retirement is. Nobody sets any of it by a tick. */
export interface RetirementFacts {
  /** Some features are to go, and the add-on itself stays: what is on, off or used are these. */
  isPart: boolean
  /** A sweep that looked for use is there. */
  looked: boolean
  /** Pages where it is in use still, by the newest evidence. */
  usedOn: number
  /** Active add-ons that need it. */
  neededBy: readonly string[]
  /** What takes over its job: 'nothing', or what was written down; null while nobody has said. */
  successor: string | null
  /** Whether the owner has said that it may go. */
  word: boolean
  /** The newest snapshot for it, read back and found sound. */
  snapshot: 'sound' | 'unsound' | null
  rehearsal: 'passed' | 'failed' | 'running' | 'stale' | null
  /** By the site's own inventory. */
  isActive: boolean
  isInstalled: boolean
  /** Until when it is watched, switched off; null before. */
  watchUntil: Date | null
  /** Begin of the newest whole sweep since it was switched off; null where there is none. */
  sweptAt: Date | null
  /** When it was last looked for what is missed; null where that was never done. */
  lookedAt: Date | null
  /** Things that visitors or editors missed since. */
  missed: number
  /** What is left of it at the site; null where the site does not tell. */
  leftovers: number | null
  /** Whether a whole sweep has been done since it was removed. */
  proved: boolean
}

export interface RetirementStepState {
  step: RetirementStep
  /** `now`: the one that is to be done; `later`: after it; `back`: was done, and is so no more. */
  state: 'done' | 'now' | 'later'
  /** Why it is not done. */
  why: string | null
}

/**
 * How far a retirement is. Every step is done or not by the facts alone; the first that is not is the one to be done, and what comes
 * after it waits, unless the facts have overtaken it (somebody took the add-on off by hand).
 */
export function retirementSteps(facts: RetirementFacts, now: Date): RetirementStepState[] {
  const reasons = RETIREMENT_STEPS.map((step) => ({ step, why: WHY[step](facts, now) }))
  const first = reasons.findIndex(({ why }) => why !== null)
  return reasons.map(({ step, why }, n) => ({
    step,
    state: why === null ? 'done' : n === first ? 'now' : 'later',
    why,
  }))
}

/** Why a step is not done; null where it is. Once the add-on is off, what was to be known before it is settled. */
const WHY: Record<RetirementStep, (facts: RetirementFacts, now: Date) => string | null> = {
  use: ({ looked, isActive }) => (looked || !isActive ? null : 'No sweep has looked for its use yet.'),
  needs: ({ neededBy }) => (neededBy.length === 0 ? null : `Needed by ${neededBy.join(', ')}.`),
  successor: ({ successor, usedOn, isInstalled, isPart }) =>
    successor === null && isInstalled && !isPart
      ? 'Nobody has said what takes over its job.'
      : usedOn > 0 && isInstalled
        ? `${usedOn === 1 ? 'One page is' : `${usedOn} pages are`} still to be changed.`
        : null,
  word: ({ word }) => (word ? null : 'Its owner has not said yet that it may go.'),
  snapshot: ({ snapshot }) =>
    snapshot === 'sound'
      ? null
      : snapshot === 'unsound'
        ? 'The snapshot is not what was written.'
        : 'There is no snapshot yet.',
  rehearsal: ({ rehearsal, isActive }) =>
    rehearsal === 'passed' || !isActive
      ? null
      : {
          failed: 'In the rehearsal something fails.',
          running: 'It is being rehearsed.',
          stale: 'What was rehearsed is not what is there now.',
          none: 'It has not been rehearsed.',
        }[rehearsal ?? 'none'],
  off: ({ isActive }) => (isActive ? 'It is switched on.' : null),
  watch: ({ watchUntil, sweptAt, lookedAt, missed, isActive, isInstalled }, now) => {
    if (!isInstalled) return null
    if (isActive || watchUntil === null) return 'It is watched once it is off.'
    if (missed > 0) return `${missed === 1 ? 'One thing was' : `${missed} things were`} missed.`
    if (now < watchUntil) return 'The time of watching is not over.'
    if (sweptAt === null || sweptAt < watchUntil) return 'The sweep at its end is still to come.'
    return lookedAt !== null && lookedAt >= watchUntil ? null : 'It is still to be looked for what was missed.'
  },
  removal: ({ isInstalled, isPart }) => (isInstalled && !isPart ? 'It is still installed.' : null),
  leftovers: ({ leftovers, isInstalled, isPart }) =>
    isPart
      ? null
      : isInstalled
        ? 'What is left shows once it is removed.'
        : leftovers === null || leftovers === 0
          ? null
          : `${leftovers === 1 ? 'One thing is' : `${leftovers} things are`} left of it.`,
  proof: ({ proved }) => (proved ? null : 'No sweep has been done since.'),
}
