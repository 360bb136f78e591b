import { placeCovers, type Place, type Rule, type RulePage } from '@unvelt/core'

/** Two rules are about the same thing when target and place are the same; the later one then replaces the earlier. */
export const sameSubject = (a: Rule, b: Rule): boolean => subject(a) === subject(b)

/** What a rule is about, as a key: for many rules at once. */
export const subject = ({ addon, feature, file, setting, place, condition }: Rule) =>
  JSON.stringify([
    addon,
    feature ?? null,
    file ?? null,
    setting ?? null,
    placeKey(place),
    condition?.device ?? null,
    condition?.visitor ?? null,
  ])

function placeKey(place: Place): string {
  if (place.level !== 'set') return JSON.stringify(Object.entries(place).sort())
  // A set that has a name is the same place when other pages are in it.
  return JSON.stringify(
    place.name === undefined ? [place.level, [...place.paths].sort()] : [place.level, 'called', place.name],
  )
}

/** A draft: a rule to be, or a live one that is to go. */
export interface DraftRule extends Rule {
  removed?: true
}

/** The live rules with the drafts on top. */
export function mergeRules(live: readonly Rule[], drafts: readonly DraftRule[]): Rule[] {
  const drafted = new Set(drafts.map(subject))
  return [...live.filter((rule) => !drafted.has(subject(rule))), ...drafts.filter(({ removed }) => !removed)]
}

/** The pages that at least one of the rules is about. */
export function coveredPages<P extends RulePage>(rules: readonly Rule[], pages: readonly P[]): P[] {
  return pages.filter((page) => rules.some((rule) => placeCovers(rule.place, page)))
}
