import type { Rule, RulePage } from './rule.js'

/** Pages of one kind and area, in groups that rules for paths take for one. */
export interface Breed {
  kind: string
  area: RulePage['area']
  groups: Group[]
}

export interface Group {
  page: RulePage
  paths: string[]
  rules: Rule[]
}
