import { pathPattern } from './path-pattern.js'
import type { Condition, Place, Rule, RulePage, Visit } from './rule.js'

/** Later is more specific, and wins. */
const LEVELS: Place['level'][] = ['everywhere', 'area', 'kind', 'path', 'set', 'page']

/** How specific a rule is: its place first, then its condition; a higher number wins. */
export function specificity(rule: Rule): number {
  const { device, visitor } = rule.condition ?? {}
  return LEVELS.indexOf(rule.place.level) * 10 + (device ? 1 : 0) + (visitor ? 1 : 0)
}

/** Whether a place covers a page. Path patterns are URLPattern pathnames. */
export function placeCovers(place: Place, page: RulePage): boolean {
  switch (place.level) {
    case 'page':
      return place.path === page.path
    case 'set':
      return place.paths.includes(page.path)
    case 'path':
      return pathPattern(place.pattern)?.test(page.path) ?? false
    case 'kind':
      return place.kind === page.kind
    case 'area':
      return place.area === page.area
    case 'everywhere':
      return true
  }
}

export function conditionHolds(condition: Condition | undefined, visit: Visit): boolean {
  if (condition?.device && condition.device !== visit.device) return false
  return !condition?.visitor || condition.visitor === visit.visitor
}
