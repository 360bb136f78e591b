import { seeded } from '../random/seeded.js'
import { median } from './median.js'

/** The four words a difference is reported in. */
export type DifferenceWord = 'better' | 'worse' | 'no measurable change' | 'too small to matter'

export interface Difference {
  before: number
  after: number
  /** Median after less median before, in the measure's own unit: negative is less. */
  estimate: number
  /** 95 % interval of the estimate. */
  low: number
  high: number
  word: DifferenceWord
}

export interface DifferenceOptions {
  /** Smallest difference worth speaking of, in the measure's own unit. */
  threshold?: number
  seed?: number
  resamples?: number
}

/** Below this many readings a side nothing can be said: a bootstrap of one reading would call chance a certainty. */
export const FEWEST_READINGS = 3

/**
 * Compares two sets of readings of one measure, of which less is better. The interval is the percentile bootstrap of
 * the difference of medians (Efron & Tibshirani, An Introduction to the Bootstrap, 1993, ch. 13), seeded.
 * With fewer than three readings on a side the interval is unbounded.
 * @throws RangeError when either side has no reading.
 */
export function difference(
  before: readonly number[],
  after: readonly number[],
  { threshold = 0, seed = 1, resamples = 2000 }: DifferenceOptions = {},
): Difference {
  if (before.length === 0 || after.length === 0) throw new RangeError('difference: each side needs a reading')
  const random = seeded(seed)
  const draw = (values: readonly number[]) => values.map(() => values[Math.floor(random() * values.length)]!)
  const estimates = Array.from({ length: resamples }, () => median(draw(after)) - median(draw(before)))
  estimates.sort((a, b) => a - b)
  const at = (share: number) => estimates[Math.round(share * (estimates.length - 1))]!
  const enough = Math.min(before.length, after.length) >= FEWEST_READINGS
  const result = {
    before: median(before),
    after: median(after),
    low: enough ? at(0.025) : -Infinity,
    high: enough ? at(0.975) : Infinity,
  }
  const estimate = result.after - result.before
  return { ...result, estimate, word: wordFor(estimate, result.low, result.high, threshold) }
}

function wordFor(estimate: number, low: number, high: number, threshold: number): DifferenceWord {
  if (low <= 0 && high >= 0) return 'no measurable change'
  if (Math.abs(estimate) < threshold) return 'too small to matter'
  return estimate < 0 ? 'better' : 'worse'
}
