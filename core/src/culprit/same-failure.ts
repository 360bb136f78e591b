import type { GuardResult } from '../guard/guards.js'

/** Sizes and places in what is told differ with every set of rules; what it is about does not. */
export const about = (entry: string) => entry.replace(/\d+([.,]\d+)?/g, '#')

/**
 * Whether a guard fails for what it failed for before: for at least one thing that was missed or came then. Guards that tell a
 * size alone, of a picture or a shift, say the same whenever they fail.
 */
export function failsForSame(results: readonly GuardResult[], then: Omit<GuardResult, 'outcome'>): boolean {
  const now = results.find(({ guard, outcome }) => guard === then.guard && outcome === 'fails')
  if (!now) return false
  if (then.size !== undefined) return true
  const known = new Set([
    ...then.gone.map((entry) => `-${about(entry)}`),
    ...then.came.map((entry) => `+${about(entry)}`),
  ])
  return (
    now.gone.some((entry) => known.has(`-${about(entry)}`)) || now.came.some((entry) => known.has(`+${about(entry)}`))
  )
}
