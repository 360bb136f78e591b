import { CONTENT, particularsOf, type Rule } from '@unvelt/core'
import type { RuleView } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import type { DraftRule } from './merge-rules.js'

/** Which part of its add-on a rule is about, where it is not the whole. */
export const part = ({ feature, file, setting }: Pick<Rule, 'feature' | 'file' | 'setting'>) => ({
  ...(feature !== undefined && { feature }),
  ...(file !== undefined && { file }),
  ...(setting !== undefined && { setting }),
})

/** Rules as the interface shows them, with the add-ons' names. */
export async function ruleViews(siteId: number, rules: readonly DraftRule[]): Promise<RuleView[]> {
  const names = new Map((await AddOnRow.findAll({ where: { siteId } })).map((row) => [row.slug, row.name]))
  return rules.map((rule) => ({
    id: rule.id,
    addon: rule.addon,
    addonName: names.get(rule.addon) ?? (rule.addon === CONTENT ? 'Content' : rule.addon),
    ...part(rule),
    effect: rule.effect,
    ...particularsOf(rule),
    place: rule.place,
    ...(rule.condition && { condition: rule.condition }),
    ...(rule.note !== undefined && { note: rule.note }),
    ...(rule.author !== undefined && { author: rule.author }),
    ...(rule.made !== undefined && { made: rule.made }),
    ...(rule.expires !== undefined && { expires: rule.expires }),
    ...(rule.removed && { removed: true }),
  }))
}
