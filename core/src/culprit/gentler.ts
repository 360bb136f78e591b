import type { Effect, HoldUntil, Order, Rule } from '../rule/rule.js'

/** An effect with what it needs to be whole. */
export interface GentlerEffect {
  effect: Effect
  until?: HoldUntil
  order?: Order
  /** Only these files of the add-on, as rules call them. */
  files?: string[]
}

/**
 * Effects from the one that spares the most down to the one that changes the least: not run, not loaded, loaded when pressed for,
 * in sight, touched or idle; then only in another order. What lets others go first comes before what may come at any time.
 */
const LADDER: readonly GentlerEffect[] = [
  { effect: 'skip' },
  { effect: 'leave-out' },
  { effect: 'hold', until: 'asked' },
  { effect: 'hold', until: 'seen' },
  { effect: 'hold', until: 'input' },
  { effect: 'hold', until: 'idle' },
  { effect: 'order', order: 'end' },
  { effect: 'order', order: 'async' },
  { effect: 'order', order: 'defer' },
]

/** Everything that can be tried for an add-on, what spares the most first. @param can Effects that can be carried out for it. */
export const everyEffect = (can: readonly string[]): GentlerEffect[] =>
  LADDER.filter(({ effect }) => can.includes(effect))

/**
 * What can be tried in the place of a rule that breaks something, what spares the most first. Nothing for rules that take nothing away
 * (a setting, a copy, a hint), and for those of a feature, which the site runs or does not.
 * @param can Effects that can be carried out on the site.
 */
export function gentlerThan(
  { effect, until = 'idle', order = 'defer', feature, setting }: Rule,
  can: readonly string[],
): GentlerEffect[] {
  if (feature !== undefined || setting !== undefined) return []
  const at = LADDER.findIndex(
    (step) =>
      step.effect === effect &&
      (step.until === undefined || step.until === until) &&
      (step.order === undefined || step.order === order),
  )
  return at < 0 ? [] : LADDER.slice(at + 1).filter((step) => can.includes(step.effect))
}
