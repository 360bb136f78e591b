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
  /** The rules of each way. */
  rules: Rule[][]
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
  const rulesOf = (made: readonly DraftRule[][]) => mergeRules(from, made.flat())
  const says = (made: readonly DraftRule[][]) => saysOn(rulesOf(made), page, visit)
  const [none, all] = [says([]), says(changes)]
  const touches = changes.map(
    (change) => says([change]) !== none || says(changes.filter((other) => other !== change)) !== all,
  )
  const touching = changes.filter((_, at) => touches[at])
  if (touching.length === 0) return { touches, plan: null, ways: [], rules: [] }
  const plan = sharePlan(touching.length, seed)
  const known = new Map<string, number>()
  const rules: Rule[][] = []
  const ways = plan.sets.map((set) => {
    const made = set.map((at) => touching[at]!)
    const key = says(made)
    const way = known.get(key) ?? rules.push(rulesOf(made)) - 1
    known.set(key, way)
    return way
  })
  return { touches, plan, ways, rules }
}
