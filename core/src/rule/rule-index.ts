import { conditionHolds, placeCovers } from './place.js'
import { pathPattern, type PathPattern } from './path-pattern.js'
import type { Rule, RulePage, Visit } from './rule.js'

interface PatternRules {
  number: number
  pattern: PathPattern
  rules: Rule[]
}

/** The rules that hold on many pages alike, by the add-ons that they are for. */
export interface SharedRules {
  byAddOn: ReadonlyMap<string, readonly Rule[]>
}

const MOST_SHARED = 20_000

/** Rules by where they hold, so that a page is asked of those only that can cover it. */
export class RuleIndex {
  private readonly byPath = new Map<string, Rule[]>()
  private readonly byKind = new Map<string, Rule[]>()
  private readonly byArea = new Map<string, Rule[]>()
  private readonly everywhere: Rule[] = []
  private readonly shared = new Map<string, SharedRules>()
  private readonly patterns = new Map<string, PatternRules>()
  /** The same by the folder that each fits paths of; under nothing those that fit paths of any. */
  private readonly byFolder = new Map<string, PatternRules[]>()

  constructor(rules: readonly Rule[]) {
    for (const rule of rules) this.add(rule)
  }

  /** The rules that hold on a page for a visit, in no order that means anything. */
  rulesFor(page: RulePage, visit: Visit): Rule[] {
    return [...this.ownRules(page, visit), ...[...this.sharedRules(page, visit).byAddOn.values()].flat()]
  }

  /** Those that name the page itself, alone or among others. */
  ownRules(page: RulePage, visit: Visit): Rule[] {
    const own = this.byPath.get(page.path)
    return own ? own.filter((rule) => conditionHolds(rule.condition, visit)) : []
  }

  /** All others. Pages of one kind and area that fit the same patterns are given the same object. */
  sharedRules(page: RulePage, visit: Visit): SharedRules {
    const fitting = this.fittingPatterns(page.path)
    const key = `${visit.device} ${visit.visitor} ${page.area} ${fitting.map(({ number }) => number).join()} ${page.kind}`
    let known = this.shared.get(key)
    if (known) return known
    const byAddOn = new Map<string, Rule[]>()
    const take = (rules: readonly Rule[] | undefined) => {
      for (const rule of rules ?? []) if (conditionHolds(rule.condition, visit)) push(byAddOn, rule.addon, rule)
    }
    for (const { rules } of fitting) take(rules)
    take(this.byKind.get(page.kind))
    take(this.byArea.get(page.area))
    take(this.everywhere)
    known = { byAddOn }
    if (this.shared.size >= MOST_SHARED) this.shared.clear()
    this.shared.set(key, known)
    return known
  }

  /** The rules that a whole kind and area of pages shares, whatever the visit. */
  broadRules({ kind, area }: Pick<RulePage, 'kind' | 'area'>): Rule[] {
    return [...(this.byKind.get(kind) ?? []), ...(this.byArea.get(area) ?? []), ...this.everywhere]
  }

  /** The rules for a page by its path: those that name it, and by patterns that it fits. */
  pathRules(path: string): Rule[] {
    return [...(this.byPath.get(path) ?? []), ...this.fittingPatterns(path).flatMap(({ rules }) => rules)]
  }

  /** Tells pages apart as far as rules for paths do; nothing where none fits. */
  pathKey(path: string): string {
    if (this.byPath.has(path)) return path
    return this.fittingPatterns(path)
      .map(({ number }) => number)
      .join()
  }

  private fittingPatterns(path: string): PatternRules[] {
    if (this.patterns.size === 0) return []
    const folder = /^\/[^/]*/.exec(path)?.[0] ?? ''
    const fitting: PatternRules[] = []
    for (const key of folder === '' ? [''] : [folder, ''])
      for (const entry of this.byFolder.get(key) ?? []) if (entry.pattern.test(path)) fitting.push(entry)
    return fitting
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
        if (!pattern) return
        const entry = { number: this.patterns.size, pattern, rules: [rule] }
        this.patterns.set(place.pattern, entry)
        push(this.byFolder, pattern.folder, entry)
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

function push<T>(map: Map<string, T[]>, key: string, entry: T): void {
  const list = map.get(key)
  if (list) list.push(entry)
  else map.set(key, [entry])
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
