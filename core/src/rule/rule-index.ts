import { conditionHolds, placeCovers } from './place.js'
import { pathPattern, type PathPattern } from './path-pattern.js'
import type { Rule, RulePage, Visit } from './rule.js'

/** Rules by where they hold, so that a page is asked of those only that can cover it. */
export class RuleIndex {
  private readonly byPath = new Map<string, Rule[]>()
  private readonly byKind = new Map<string, Rule[]>()
  private readonly byArea = new Map<string, Rule[]>()
  private readonly everywhere: Rule[] = []
  private readonly patterns = new Map<string, { pattern: PathPattern; rules: Rule[] }>()

  constructor(rules: readonly Rule[]) {
    for (const rule of rules) this.add(rule)
  }

  /** The rules that hold on a page for a visit, in no order that means anything. */
  rulesFor(page: RulePage, visit: Visit): Rule[] {
    const found: Rule[] = []
    const take = (rules: readonly Rule[] | undefined) => {
      for (const rule of rules ?? []) if (conditionHolds(rule.condition, visit)) found.push(rule)
    }
    take(this.byPath.get(page.path))
    for (const { pattern, rules } of this.patterns.values()) if (pattern.test(page.path)) take(rules)
    take(this.byKind.get(page.kind))
    take(this.byArea.get(page.area))
    take(this.everywhere)
    return found
  }

  private add(rule: Rule): void {
    const { place } = rule
    switch (place.level) {
      case 'page':
        return push(this.byPath, place.path, rule)
      case 'set':
        for (const path of new Set(place.paths)) push(this.byPath, path, rule)
        return
      case 'path': {
        const known = this.patterns.get(place.pattern)
        if (known) return void known.rules.push(rule)
        // One that can't be compiled covers nothing; who reads rules in refuses it.
        const pattern = pathPattern(place.pattern)
        if (pattern) this.patterns.set(place.pattern, { pattern, rules: [rule] })
        return
      }
      case 'kind':
        return push(this.byKind, place.kind, rule)
      case 'area':
        return push(this.byArea, place.area, rule)
      case 'everywhere':
        return void this.everywhere.push(rule)
    }
  }
}

function push(map: Map<string, Rule[]>, key: string, rule: Rule): void {
  const list = map.get(key)
  if (list) list.push(rule)
  else map.set(key, [rule])
}

const indexes = new WeakMap<readonly Rule[], RuleIndex>()

/** The index of a list of rules. The same list, which must not change, is taken apart once. */
export function indexOf(rules: readonly Rule[]): RuleIndex {
  const known = indexes.get(rules)
  if (known) return known
  const index = new RuleIndex(rules)
  indexes.set(rules, index)
  return index
}

/** What the index answers, found by looking at every rule: for tests and benchmarks. */
export const rulesByScan = (rules: readonly Rule[], page: RulePage, visit: Visit): Rule[] =>
  rules.filter((rule) => placeCovers(rule.place, page) && conditionHolds(rule.condition, visit))
