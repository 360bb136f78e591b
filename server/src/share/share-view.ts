import { median, shares, WEIGHED, type Shared, type SharePlan, type WeighFigures, type Weighed } from '@unvelt/core'
import type { SharedFigure, ShareMeasure } from '@unvelt/contract'

/** What a page was under one way to make it, one reading after the other. */
export type ReadingsOfWays = readonly (readonly WeighFigures[])[]

const NO_SHARE = { estimate: 0, low: 0, high: 0, word: 'nothing', alone: 0, last: 0 } as const

/**
 * The share of each change in each measure that was read under every set.
 * @param leastShare A difference under that share of what the page was without any change does not matter.
 */
export function measuresOf(
  { plan, ways, touches }: { plan: SharePlan; ways: readonly number[]; touches: readonly boolean[] },
  readings: ReadingsOfWays,
  leastShare: number,
): ShareMeasure[] {
  return WEIGHED.flatMap((measure): ShareMeasure[] => {
    const bySet = ways.map((way) => valuesOf(readings[way] ?? [], measure))
    if (bySet.length === 0 || bySet.some(({ length }) => length === 0)) return []
    const before = median(bySet[0]!)
    const found = shares(plan, bySet, leastShare * Math.abs(before))!
    let next = 0
    return [
      {
        measure,
        before,
        total: bounded(found.total),
        each: touches.map((does) => {
          if (!does) return { ...NO_SHARE }
          const { alone, last, ...own } = found.each[next++]!
          return { ...bounded(own), alone, last }
        }),
      },
    ]
  })
}

const valuesOf = (readings: readonly WeighFigures[], measure: Weighed): number[] =>
  readings.flatMap((figures) => {
    const value = figures[measure]
    return value === null || value === undefined || !Number.isFinite(value) ? [] : [value]
  })

/** JSON has no infinity: an interval that nothing bounds is none. */
const bounded = ({ estimate, low, high, word }: Shared): SharedFigure => ({
  estimate,
  low: Number.isFinite(low) ? low : null,
  high: Number.isFinite(high) ? high : null,
  word,
})
