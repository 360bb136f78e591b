import { difference, median } from '@unvelt/core'
import type { ProofFigure } from '@unvelt/contract'

/** Two sets of readings of one measure, as they are shown beside each other. Under that share of what it was, a difference doesn't matter. */
export function compared(beforeReadings: number[], afterReadings: number[], leastShare: number): ProofFigure {
  if (beforeReadings.length === 0 || afterReadings.length === 0)
    return { before: null, after: null, low: null, high: null, word: 'not read', beforeReadings, afterReadings }
  const { before, after, low, high, word } = difference(beforeReadings, afterReadings, {
    threshold: leastShare * median(beforeReadings),
  })
  // JSON has no infinity: an interval that nothing bounds is none.
  const bounded = (value: number) => (Number.isFinite(value) ? value : null)
  return { before, after, low: bounded(low), high: bounded(high), word, beforeReadings, afterReadings }
}
