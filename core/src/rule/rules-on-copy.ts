import { pathPattern } from './path-pattern.js'
import type { Place, Rule, RulePage } from './rule.js'

/**
 * Rules under which a copy of a page at another path is what the page is under the rules given: the same of them decide, at the
 * same rank. What they say of other pages is not kept.
 * @param page The page that was copied; its copy is of the same kind and area.
 * @param copy The copy's path.
 */
export function rulesOnCopy(rules: readonly Rule[], page: RulePage, copy: string): Rule[] {
  return rules.flatMap((rule) => {
    const place = placeOnCopy(rule.place, page.path, copy)
    return place ? [{ ...rule, place }] : []
  })
}

function placeOnCopy(place: Place, path: string, copy: string): Place | null {
  switch (place.level) {
    case 'page':
      return place.path === path ? { level: 'page', path: copy } : null
    case 'set':
      return place.paths.includes(path) ? { level: 'set', paths: [copy] } : null
    case 'path':
      return pathPattern(place.pattern)?.test(path) ? { level: 'path', pattern: literal(copy) } : null
    default:
      return place
  }
}

/** A pattern that fits one path only. */
const literal = (path: string) => path.replace(/[\\*:(){}?+]/g, '\\$&')
