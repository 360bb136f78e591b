import { student95, studentP } from '../noise/student.js'

/** A page as it was read some times on either side, and how much it counts for; the weights add up to 1. */
export interface PageTwice {
  weight: number
  then: readonly number[]
  now: readonly number[]
}

/** What the weighted mean page differs by: now less then, with its 95 % interval, in the readings' own unit. */
export interface MeanStep {
  estimate: number
  low: number
  high: number
  /** How likely a difference as large would be if the pages had not changed. */
  p: number
  /** Pages that were read often enough on both sides; the others are left out of it. */
  pages: number
}

const FEWEST = 2

/**
 * The difference of two sweeps in a time, from how much each page's own repeats vary: readings of one page on two days are two
 * samples whose variances need not be alike (Welch, The generalization of "Student's" problem, Biometrika 34, 1947; degrees of
 * freedom as there). It tells what repeating would change, and not how much the machine or the site was slower that day.
 * Null where no page was read twice on both sides.
 */
export function meanStep(pages: readonly PageTwice[]): MeanStep | null {
  const read = pages.filter(({ then, now, weight }) => then.length >= FEWEST && now.length >= FEWEST && weight > 0)
  const all = read.reduce((sum, { weight }) => sum + weight, 0)
  if (all === 0) return null
  let [estimate, variance, perFreedom] = [0, 0, 0]
  for (const { weight, then, now } of read) {
    const share = weight / all
    estimate += share * (meanOf(now) - meanOf(then))
    for (const side of [then, now]) {
      const part = (share ** 2 * varianceOf(side)) / side.length
      variance += part
      perFreedom += part ** 2 / (side.length - 1)
    }
  }
  // What never varied tells nothing of how much it would.
  if (perFreedom === 0) return { estimate, low: -Infinity, high: Infinity, p: 1, pages: read.length }
  const freedom = variance ** 2 / perFreedom
  const error = Math.sqrt(variance)
  const half = student95(freedom) * error
  return {
    estimate,
    low: estimate - half,
    high: estimate + half,
    p: studentP(estimate / error, freedom),
    pages: read.length,
  }
}

const meanOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length

function varianceOf(values: readonly number[]): number {
  const mean = meanOf(values)
  return values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (values.length - 1)
}
