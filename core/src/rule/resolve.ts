import { specificity } from './place.js'
import { indexOf, type SharedRules } from './rule-index.js'
import { particularsOf } from './particulars.js'
import type {
  AskPlace,
  CopyTerms,
  EarlyHost,
  Effect,
  FontStandIn,
  HoldUntil,
  Order,
  Rule,
  RulePage,
  Visit,
} from './rule.js'

export interface ResolvedEffect {
  addon: string
  feature?: string
  file?: string
  setting?: string
  effect: Effect
  until?: HoldUntil
  /** For `hold` until asked: what stands in its place. */
  ask?: AskPlace
  order?: Order
  /** For `set`. */
  value?: number
  /** For `local`, `system-font` and `hint`, as their rules have them. */
  copy?: CopyTerms
  fonts?: FontStandIn[]
  hosts?: EarlyHost[]
  ahead?: true
  /** The rules that decided; more than one when they say the same. */
  rules: string[]
  /** Rules that say something else at an exact tie. They can't go live together. */
  conflictsWith: string[]
}

/**
 * The effect on each add-on, feature, file and setting on one page for one visit. The more specific place wins (page > page
 * set > path pattern > kind > area > everywhere), then the more conditions, then the narrower target (a feature or file before
 * its add-on); at an exact tie `keep` wins, and two other effects are a conflict: the one of the rule with the smaller id
 * stands, and the rest is listed. A part of an add-on of which a rule for the whole add-on decides is left out: what is said
 * of the add-on holds for it.
 * @param rules A list that does not change afterwards: it is taken apart once.
 */
export function resolve(rules: readonly Rule[], page: RulePage, visit: Visit): ResolvedEffect[] {
  const index = indexOf(rules)
  const shared = index.sharedRules(page, visit)
  const decided = sharedDecisions(shared)
  const own = index.ownRules(page, visit)
  if (own.length === 0) return decided.all.slice()
  // Only of the add-ons that the page's own rules are for has anything to be decided anew.
  const byAddOn = new Map<string, Rule[]>()
  for (const rule of own) {
    const known = byAddOn.get(rule.addon)
    if (known) known.push(rule)
    else byAddOn.set(rule.addon, [...(shared.byAddOn.get(rule.addon) ?? []), rule])
  }
  const result: ResolvedEffect[] = []
  const anew = [...byAddOn.keys()].sort()
  let next = 0
  for (const addon of decided.addOns) {
    while (next < anew.length && anew[next]! <= addon) result.push(...decideAddOn(byAddOn.get(anew[next++]!)!))
    if (!byAddOn.has(addon)) result.push(...decided.byAddOn.get(addon)!)
  }
  while (next < anew.length) result.push(...decideAddOn(byAddOn.get(anew[next++]!)!))
  return result
}

/** What rules that many pages share decide, worked out once for all of them. */
interface SharedDecisions {
  addOns: string[]
  byAddOn: Map<string, ResolvedEffect[]>
  all: ResolvedEffect[]
}

const sharedDecided = new WeakMap<SharedRules, SharedDecisions>()

function sharedDecisions(shared: SharedRules): SharedDecisions {
  const known = sharedDecided.get(shared)
  if (known) return known
  const addOns = [...shared.byAddOn.keys()].sort()
  const byAddOn = new Map(addOns.map((addon) => [addon, decideAddOn(shared.byAddOn.get(addon)!)]))
  const decided = { addOns, byAddOn, all: [...byAddOn.values()].flat() }
  sharedDecided.set(shared, decided)
  return decided
}

/** The effects on one add-on and its parts, the add-on before its parts, by all rules for it that hold on a page. */
export function decideAddOn(rules: readonly Rule[]): ResolvedEffect[] {
  const byTarget = new Map<string, Rule[]>()
  let ofAddOn = -1
  for (const rule of rules) {
    const target = targetOf(rule)
    const list = byTarget.get(target)
    if (list) list.push(rule)
    else byTarget.set(target, [rule])
    if (isWhole(rule)) ofAddOn = Math.max(ofAddOn, specificity(rule))
  }
  const inOrder = byTarget.size === 1 ? [...byTarget] : [...byTarget].sort(([a], [b]) => (a < b ? -1 : 1))
  return inOrder.flatMap(([, candidates]) => {
    const [first] = candidates
    // At the same place and condition the narrower target wins, so only what is more specific overrules it.
    const isOverruled = (first!.file !== undefined || first!.feature !== undefined) && ofAddOn > highestOf(candidates)
    return isOverruled ? [] : [decide(candidates)]
  })
}

const isWhole = ({ feature, file, setting }: Rule) =>
  feature === undefined && file === undefined && setting === undefined

const targetOf = ({ addon, feature, file, setting }: Rule): string =>
  feature === undefined && file === undefined && setting === undefined
    ? addon
    : `${addon}\0${JSON.stringify([feature ?? null, file ?? null, setting ?? null])}`

function highestOf(rules: readonly Rule[]): number {
  let highest = -1
  for (const rule of rules) highest = Math.max(highest, specificity(rule))
  return highest
}

function decide(candidates: Rule[]): ResolvedEffect {
  const highest = highestOf(candidates)
  const tied = candidates.filter((rule) => specificity(rule) === highest).sort((a, b) => (a.id < b.id ? -1 : 1))
  const winner = tied.find((rule) => rule.effect === 'keep') ?? tied[0]!
  const others = winner.effect === 'keep' ? [] : tied.filter((rule) => !sameEffect(rule, winner))
  return {
    addon: winner.addon,
    ...(winner.feature !== undefined && { feature: winner.feature }),
    ...(winner.file !== undefined && { file: winner.file }),
    ...(winner.setting !== undefined && { setting: winner.setting }),
    effect: winner.effect,
    ...particularsOf(winner),
    ...(winner.effect === 'hold' && { until: winner.until ?? 'idle' }),
    ...(winner.effect === 'order' && { order: winner.order ?? 'defer' }),
    rules: tied.filter((rule) => sameEffect(rule, winner)).map((rule) => rule.id),
    conflictsWith: others.map((rule) => rule.id),
  }
}

const sameEffect = (a: Rule, b: Rule) =>
  a.effect === b.effect &&
  a.value === b.value &&
  (a.until ?? 'idle') === (b.until ?? 'idle') &&
  (a.order ?? 'defer') === (b.order ?? 'defer') &&
  a.copy?.content === b.copy?.content
