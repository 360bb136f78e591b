import { saysOn, sharePlan, type Rule, type RulePage, type SharePlan, type Visit } from '@unvelt/core'
import { mergeRules, type DraftRule } from '../rule/merge-rules.js'

/** How a page is to be read so that each change's share can be told. */
export interface PagePlan {
  /** For each change, whether it does anything on the page. */
  touches: boolean[]
  /** Over those that do; null where none does. */
  plan: SharePlan | null
  /** For each set of the plan, which of the ways to make the page it is. */
  ways: number[]
  /** For each way a set by which the page is made so. */
  sets: number[][]
}

/**
 * A change that makes no difference, neither alone nor behind all others, has no share and needs no reading; sets by which the page is
 * made alike are read as one.
 */
export function planPage(
  from: readonly Rule[],
  changes: readonly DraftRule[][],
  page: RulePage,
  { visit, seed }: { visit: Visit; seed: number },
): PagePlan {
  // What is said of other add-ons is the same whatever is made.
  const changed = new Set(changes.flat().map(({ addon }) => addon))
  const base = from.filter(({ addon }) => changed.has(addon))
  const says = (made: readonly DraftRule[][]) => saysOn(mergeRules(base, made.flat()), page, visit)
  const [none, all] = [says([]), says(changes)]
  const touches = changes.map(
    (change) => says([change]) !== none || says(changes.filter((other) => other !== change)) !== all,
  )
  const touching = touchingOf(changes, touches)
  if (touching.length === 0) return { touches, plan: null, ways: [], sets: [] }
  const plan = sharePlan(touching.length, seed)
  const known = new Map<string, number>()
  const sets: number[][] = []
  const ways = plan.sets.map((set) => {
    const key = says(set.map((at) => touching[at]!))
    const way = known.get(key) ?? sets.push(set) - 1
    known.set(key, way)
    return way
  })
  return { touches, plan, ways, sets }
}

const touchingOf = <T>(changes: readonly T[], touches: readonly boolean[]): T[] =>
  changes.filter((_, at) => touches[at])

/** All rules that hold under each way to make the page. */
export const rulesOfWays = (
  from: readonly Rule[],
  changes: readonly DraftRule[][],
  { touches, sets }: Pick<PagePlan, 'touches' | 'sets'>,
): Rule[][] => {
  const touching = touchingOf(changes, touches)
  return sets.map((set) =>
    mergeRules(
      from,
      set.flatMap((at) => touching[at]!),
    ),
  )
}
