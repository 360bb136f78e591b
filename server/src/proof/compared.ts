import { differences, median, type Difference } from '@unvelt/core'
import type { ProofFigure } from '@unvelt/contract'

/** Figures that differ each time they are read. */
const TIMES = new Set([
  'serverMs',
  'queryMs',
  'peakMemoryBytes',
  'loadMs',
  'firstByteMs',
  'firstPaintMs',
  'largestPaintMs',
  'layoutShift',
  'blockingMs',
  'mainThreadMs',
])

/** One measure as it was read on either side. */
export interface TwoSides {
  measure: string
  before: number[]
  after: number[]
}

/**
 * Measures that are shown and judged together, each beside what it was. Under that share of what it was, a difference doesn't
 * matter.
 */
export function compared(sides: readonly TwoSides[], leastShare: number): ProofFigure[] {
  const finite = sides.map(({ measure, before, after }) => ({
    measure,
    before: before.filter(Number.isFinite),
    after: after.filter(Number.isFinite),
  }))
  const read = finite.filter(({ before, after }) => before.length > 0 && after.length > 0)
  const found = differences(
    read.map(({ measure, before, after }) => ({
      before,
      after,
      exact: !TIMES.has(measure),
      threshold: leastShare * Math.abs(median(before)),
    })),
  )
  return finite.map((side) => figureOf(side, found[read.indexOf(side)]))
}

function figureOf(
  { before: beforeReadings, after: afterReadings }: TwoSides,
  found: Difference | undefined,
): ProofFigure {
  const readings = { beforeReadings, afterReadings }
  if (!found)
    return {
      before: null,
      after: null,
      difference: null,
      low: null,
      high: null,
      word: 'not read',
      more: 0,
      ...readings,
    }
  const { before, after, estimate, low, high, word, more } = found
  // JSON has no infinity: an interval that nothing bounds is none.
  const bounded = (value: number) => (Number.isFinite(value) ? value : null)
  return { before, after, difference: estimate, low: bounded(low), high: bounded(high), word, more, ...readings }
}
