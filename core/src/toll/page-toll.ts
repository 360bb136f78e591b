import { medianIndex } from '../noise/median.js'
import { MEASURES, noToll, sumTolls, type Toll } from './toll.js'

/**
 * The tolls of a page over its repeats. For each measure all payers are read off the one repeat whose page total is
 * the (lower) median, so that margins agree with the page's median to the byte; a median per payer would not add up.
 */
export function pageTolls(repeats: Toll[][]): Toll[] {
  if (repeats.length === 0) return []
  const totals = repeats.map((list) => sumTolls(list))
  const result = new Map<string, Toll>()
  for (const measure of MEASURES) {
    const chosen = repeats[medianIndex(totals.map((total) => total[measure]))]!
    for (const toll of chosen) {
      const row = result.get(toll.payer) ?? noToll(toll.payer)
      row[measure] = toll[measure]
      result.set(toll.payer, row)
    }
  }
  return [...result.values()]
}
