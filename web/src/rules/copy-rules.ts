import { particularsOf, type Page, type Place, type RuleInput, type RuleView } from '@unvelt/contract'
import { inputOf } from './rule-rows.js'

/** Where the rules of a page can be copied to. */
export type CopyTarget = { page: Page } | { kind: string }

export interface Copied {
  rules: RuleInput[]
  /** How many say the same there already. */
  there: number
}

/** The rules that were made for this page: on it alone, or on it among a few. */
export const ownRulesOf = (rules: readonly RuleView[], { path }: Pick<Page, 'path'>): RuleView[] =>
  rules.filter(
    ({ place }) =>
      (place.level === 'page' && place.path === path) || (place.level === 'set' && place.paths.includes(path)),
  )

/** The same rules for somewhere else, but for what is said there already. Wider rules hold there by themselves. */
export function copied(rules: readonly RuleView[], from: Pick<Page, 'path'>, to: CopyTarget): Copied {
  const place: Place = 'page' in to ? { level: 'page', path: to.page.path } : { level: 'kind', kind: to.kind }
  const already = new Set(
    rules
      .filter((rule) =>
        'page' in to ? ownRulesOf([rule], to.page).length > 0 : JSON.stringify(rule.place) === JSON.stringify(place),
      )
      .map(sayingOf),
  )
  const own = ownRulesOf(rules, from)
  const fresh = own.filter((rule) => !already.has(sayingOf(rule)))
  return { rules: fresh.map((rule) => ({ ...inputOf(rule), place })), there: own.length - fresh.length }
}

/** What a rule does to what, wherever it holds. */
const sayingOf = (rule: RuleView): string => {
  const { addon, feature, file, setting, effect, condition } = rule
  return JSON.stringify([
    ...[addon, feature, file, setting, effect],
    particularsOf(rule),
    ...[condition?.device, condition?.visitor],
  ])
}
