import { particularsOf } from './particulars.js'
import { resolve } from './resolve.js'
import type { Rule, RulePage, Visit } from './rule.js'

/** All that rules do on a page for a visit, as text; the same text, the same page. */
export const saysOn = (rules: readonly Rule[], page: RulePage, visit: Visit): string =>
  JSON.stringify(
    resolve(rules, page, visit)
      .filter(({ effect }) => effect !== 'keep')
      .map((effect) => [
        effect.addon,
        effect.feature ?? '',
        effect.file ?? '',
        effect.setting ?? '',
        effect.effect,
        JSON.stringify(particularsOf(effect)),
      ])
      .sort(),
  )
