import { medianIndex } from '../noise/median.js'
import { MEASURES, noToll, sumTolls, type Measure, type Toll } from './toll.js'

const TIMES: ReadonlySet<Measure> = new Set(['mainThreadMs', 'serverMs', 'queryMs'])

/**
 * Which repeat stands for the page in each measure: the one whose page total is the (lower) median.
 *
 * @param timed Of each repeat whether its times count; all count where none is said to, or none does.
 */
export function middleRepeats(repeats: Toll[][], timed: readonly boolean[] = []): Record<Measure, number> {
  const totals = repeats.map((list) => sumTolls(list))
  const all = repeats.map((_, index) => index)
  const clocked = all.filter((index) => timed[index])
  const middle = (measure: Measure) => {
    const among = TIMES.has(measure) && clocked.length > 0 ? clocked : all
    return among[medianIndex(among.map((index) => totals[index]![measure]))]!
  }
  return Object.fromEntries(MEASURES.map((measure) => [measure, middle(measure)])) as Record<Measure, number>
}

/**
 * The tolls of a page over its repeats. For each measure all payers are read off the one repeat whose page total is
 * the (lower) median, so that margins agree with the page's median to the byte; a median per payer would not add up.
 *
 * @param timed Of each repeat whether its times count, as for `middleRepeats`.
 */
export function pageTolls(repeats: Toll[][], timed: readonly boolean[] = []): Toll[] {
  if (repeats.length === 0) return []
  const middle = middleRepeats(repeats, timed)
  const result = new Map<string, Toll>()
  for (const measure of MEASURES) {
    for (const toll of repeats[middle[measure]]!) {
      const row = result.get(toll.payer) ?? noToll(toll.payer)
      row[measure] = toll[measure]
      result.set(toll.payer, row)
    }
  }
  return [...result.values()]
}
