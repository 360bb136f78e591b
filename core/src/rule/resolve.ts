import { conditionHolds, placeCovers, specificity } from './place.js'
import type { Effect, HoldUntil, Order, Rule, RulePage, Visit } from './rule.js'

export interface ResolvedEffect {
  addon: string
  feature?: string
  file?: string
  setting?: string
  effect: Effect
  until?: HoldUntil
  order?: Order
  /** For `set`. */
  value?: number
  /** The rules that decided; more than one when they say the same. */
  rules: string[]
  /** Rules that say something else at an exact tie. They can't go live together. */
  conflictsWith: string[]
}

/**
 * The effect on each add-on, feature and file on one page for one visit. The more specific place wins (page > page set >
 * path pattern > kind > area > everywhere), then the more conditions; at an exact tie `keep` wins, and two other
 * effects are a conflict: the one of the rule with the smaller id stands, and the rest is listed.
 */
export function resolve(rules: readonly Rule[], page: RulePage, visit: Visit): ResolvedEffect[] {
  const byTarget = new Map<string, Rule[]>()
  for (const rule of rules) {
    if (!placeCovers(rule.place, page) || !conditionHolds(rule.condition, visit)) continue
    const target = JSON.stringify([rule.addon, rule.feature ?? null, rule.file ?? null, rule.setting ?? null])
    byTarget.set(target, [...(byTarget.get(target) ?? []), rule])
  }
  return [...byTarget.values()].map(decide)
}

function decide(candidates: Rule[]): ResolvedEffect {
  const highest = Math.max(...candidates.map(specificity))
  const tied = candidates.filter((rule) => specificity(rule) === highest).sort((a, b) => (a.id < b.id ? -1 : 1))
  const winner = tied.find((rule) => rule.effect === 'keep') ?? tied[0]!
  const others = winner.effect === 'keep' ? [] : tied.filter((rule) => !sameEffect(rule, winner))
  return {
    addon: winner.addon,
    ...(winner.feature !== undefined && { feature: winner.feature }),
    ...(winner.file !== undefined && { file: winner.file }),
    ...(winner.setting !== undefined && { setting: winner.setting }),
    effect: winner.effect,
    ...(winner.effect === 'hold' && { until: winner.until ?? 'idle' }),
    ...(winner.effect === 'order' && { order: winner.order ?? 'defer' }),
    ...(winner.effect === 'set' && { value: winner.value! }),
    rules: tied.filter((rule) => sameEffect(rule, winner)).map((rule) => rule.id),
    conflictsWith: others.map((rule) => rule.id),
  }
}

const sameEffect = (a: Rule, b: Rule) =>
  a.effect === b.effect &&
  a.value === b.value &&
  (a.until ?? 'idle') === (b.until ?? 'idle') &&
  (a.order ?? 'defer') === (b.order ?? 'defer')
