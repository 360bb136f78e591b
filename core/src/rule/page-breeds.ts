import type { RuleIndex } from './rule-index.js'
import type { Rule, RulePage } from './rule.js'

/** Pages of one kind and area, in groups that rules for paths take for one. */
export interface Breed {
  kind: string
  area: RulePage['area']
  groups: Group[]
}

export interface Group {
  page: RulePage
  /** Its pages, by their number in the list of all. */
  pages: number[]
  /** The rules for the paths of these pages. */
  rules: Rule[]
}

export interface Breeds {
  breeds: Breed[]
  /** The number of a page in the list of all. */
  numberOf: ReadonlyMap<string, number>
  /** The groups that a pattern covers. */
  byPattern: ReadonlyMap<string, readonly Group[]>
}

/** Sorts pages into breeds. */
export function breedsOf(pages: readonly RulePage[], index: RuleIndex): Breeds {
  const breeds = new Map<string, { breed: Breed; groups: Map<string, Group> }>()
  const numberOf = new Map<string, number>()
  const byPattern = new Map<string, Group[]>()
  pages.forEach((page, number) => {
    const key = `${page.area} ${page.kind}`
    let entry = breeds.get(key)
    if (!entry) {
      entry = { breed: { kind: page.kind, area: page.area, groups: [] }, groups: new Map() }
      breeds.set(key, entry)
    }
    const groupKey = index.pathKey(page.path)
    let group = entry.groups.get(groupKey)
    if (!group) {
      group = { page, pages: [], rules: groupKey === '' ? [] : index.pathRules(page.path) }
      entry.groups.set(groupKey, group)
      entry.breed.groups.push(group)
      for (const pattern of patternsOf(group.rules)) {
        const covered = byPattern.get(pattern)
        if (covered) covered.push(group)
        else byPattern.set(pattern, [group])
      }
    }
    group.pages.push(number)
    numberOf.set(page.path, number)
  })
  return { breeds: [...breeds.values()].map(({ breed }) => breed), numberOf, byPattern }
}

const patternsOf = (rules: readonly Rule[]) =>
  new Set(rules.flatMap(({ place }) => (place.level === 'path' ? [place.pattern] : [])))
