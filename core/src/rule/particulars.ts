import type { Effect, HoldUntil, Order, Rule } from './rule.js'

/** What an effect says beside its name. Each goes with some effects only. */
export const PARTICULARS = ['until', 'ask', 'order', 'value', 'copy', 'fonts', 'hosts', 'ahead'] as const
export type Particulars = Pick<Rule, (typeof PARTICULARS)[number]>

/** The particulars that a rule has; those of another effect don't fit its new one. */
export function particularsOf(rule: Particulars): Particulars {
  const found: Record<string, unknown> = {}
  for (const name of PARTICULARS) if (rule[name] !== undefined) found[name] = rule[name]
  return found as Particulars
}

/** A rule as it is about its thing and place, whatever becomes of that. */
export function withoutParticulars<R extends Particulars>(rule: R): Omit<R, (typeof PARTICULARS)[number]> {
  const rest: Partial<R> = { ...rule }
  for (const name of PARTICULARS) delete rest[name]
  return rest as Omit<R, (typeof PARTICULARS)[number]>
}

/** What a rule goes on saying beside another effect: what fits that one, and nothing of the effect before. */
export function fittingParticulars(
  { ask, value, copy, fonts, hosts, ahead }: Particulars,
  { effect, until, order }: { effect: Effect; until?: HoldUntil; order?: Order },
): Particulars & { effect: Effect } {
  return {
    effect,
    ...(until && { until }),
    ...(until === 'asked' && ask && { ask }),
    ...(order && { order }),
    ...(effect === 'set' && value !== undefined && { value }),
    ...(effect === 'local' && copy && { copy }),
    ...(effect === 'system-font' && fonts && { fonts }),
    ...(effect === 'hint' && hosts && { hosts }),
    ...(effect === 'hint' && ahead && { ahead }),
  }
}
