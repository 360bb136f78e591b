import type { Place, RuleInput, RuleView } from '@unvelt/contract'
import { inputOf } from './rule-rows.js'
import { isPattern } from './paths.js'

/** Places that can have exceptions, and how narrow they are. */
const BREADTH: Partial<Record<Place['level'], number>> = { everywhere: 0, area: 1, kind: 2, path: 3 }

export const canHaveExceptions = ({ effect, place }: Pick<RuleInput, 'effect' | 'place'>): boolean =>
  effect !== 'keep' && BREADTH[place.level] !== undefined

/**
 * The exceptions from a broad rule: those that keep just what it takes away, for the same visits, on addresses that can stand in a
 * list. They hold against any other rule on it, too.
 */
export function exceptionsOf(rule: RuleInput, rules: readonly RuleView[]): RuleView[] {
  if (!canHaveExceptions(rule)) return []
  const thing = thingOf(rule)
  return rules.filter(
    ({ effect, place, ...other }) =>
      effect === 'keep' &&
      thingOf({ ...other, effect, place }) === thing &&
      (place.level === 'page' || (place.level === 'set' && place.name === undefined) || place.level === 'path'),
  )
}

/** As lines: paths, and patterns of addresses. */
export const exceptionLines = (exceptions: readonly RuleView[]): string[] => [
  ...new Set(
    exceptions.flatMap(({ place }) =>
      place.level === 'page'
        ? [place.path]
        : place.level === 'set'
          ? place.paths
          : place.level === 'path'
            ? [place.pattern]
            : [],
    ),
  ),
]

/** Rules that keep what a rule takes away, on the pages and addresses of these lines. */
export function exceptionRules(rule: RuleInput, lines: readonly string[]): RuleInput[] {
  const { addon, feature, file, setting, condition, author } = rule
  const paths = lines.filter((line) => !isPattern(line))
  const places: Place[] = [
    ...(paths.length === 1 ? [{ level: 'page' as const, path: paths[0]! }] : []),
    ...(paths.length > 1 ? [{ level: 'set' as const, paths }] : []),
    ...lines.filter(isPattern).map((pattern) => ({ level: 'path' as const, pattern })),
  ]
  return places.map((place) => ({
    addon,
    ...(feature !== undefined && { feature }),
    ...(file !== undefined && { file }),
    ...(setting !== undefined && { setting }),
    effect: 'keep',
    place,
    ...(condition && { condition }),
    ...(author && { author }),
  }))
}

/** What is to be drafted and withdrawn so that a rule has other exceptions than before. */
export function changedExceptions(
  before: readonly RuleView[],
  wanted: readonly RuleInput[],
  draftIds: ReadonlySet<string>,
): { rules: RuleInput[]; withdrawn: string[] } {
  const [had, wants] = [new Set(before.map(placeKey)), new Set(wanted.map(placeKey))]
  const gone = before.filter((rule) => !wants.has(placeKey(rule)))
  return {
    rules: [
      ...gone.filter(({ id }) => !draftIds.has(id)).map((rule) => ({ ...inputOf(rule), removed: true })),
      ...wanted.filter((rule) => !had.has(placeKey(rule))),
    ],
    withdrawn: gone.filter(({ id }) => draftIds.has(id)).map(({ id }) => id),
  }
}

const thingOf = ({ addon, feature, file, setting, condition }: RuleInput) =>
  JSON.stringify([
    addon,
    feature ?? null,
    file ?? null,
    setting ?? null,
    condition?.device ?? null,
    condition?.visitor ?? null,
  ])

const placeKey = ({ place }: RuleInput | RuleView) =>
  JSON.stringify(place.level === 'set' ? ['set', [...place.paths].sort()] : Object.entries(place).sort())
