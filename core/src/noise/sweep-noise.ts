import { median } from './median.js'
import { repeatability } from './repeatability.js'

/** How many pages of a sweep vary too much between their repeats to tell anything of them. */
export interface SweepNoise {
  pages: number
  tooNoisy: number
  /** How many repeats would likely be enough for the middle one of the noisy pages; null where none is. */
  repeatsNeeded: number | null
}

/**
 * @param byPage one list per page: the same figure of each of its repeats, in any unit
 * @param wanted share of the median that the uncertainty may be
 */
export function sweepNoise(byPage: readonly (readonly number[])[], wanted?: number): SweepNoise {
  const known = byPage.flatMap((values) => repeatability(values, wanted) ?? [])
  const needed = known.flatMap(({ repeatsNeeded }) => repeatsNeeded ?? [])
  return {
    pages: known.length,
    tooNoisy: needed.length,
    repeatsNeeded: needed.length > 0 ? Math.ceil(median(needed)) : null,
  }
}
