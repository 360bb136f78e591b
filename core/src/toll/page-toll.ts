import { medianIndex } from '../noise/median.js'
import { MEASURES, noToll, sumTolls, type Measure, type Toll } from './toll.js'

const TIMES: ReadonlySet<Measure> = new Set(['mainThreadMs', 'serverMs', 'queryMs'])

/** Which repeat stands for the page in each measure: the one whose page total is the (lower) median. */
export function middleRepeats(repeats: Toll[][]): Record<Measure, number> {
  const totals = repeats.map((list) => sumTolls(list))
  return Object.fromEntries(
    MEASURES.map((measure) => [measure, medianIndex(totals.map((total) => total[measure]))]),
  ) as Record<Measure, number>
}

/**
 * The tolls of a page over its repeats. For each measure all payers are read off the one repeat whose page total is
 * the (lower) median, so that margins agree with the page's median to the byte; a median per payer would not add up.
 *
 * @param timed Those of the repeats whose times count; at least one where there are repeats.
 */
export function pageTolls(repeats: Toll[][], timed: Toll[][] = repeats): Toll[] {
  if (repeats.length === 0) return []
  const [of, ofTimed] = [middleRepeats(repeats), middleRepeats(timed)]
  const result = new Map<string, Toll>()
  for (const measure of MEASURES) {
    const chosen = TIMES.has(measure) ? timed[ofTimed[measure]]! : repeats[of[measure]]!
    for (const toll of chosen) {
      const row = result.get(toll.payer) ?? noToll(toll.payer)
      row[measure] = toll[measure]
      result.set(toll.payer, row)
    }
  }
  return [...result.values()]
}
