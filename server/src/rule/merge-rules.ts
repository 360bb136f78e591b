import { placeCovers, type Place, type Rule, type RulePage } from '@unvelt/core'

/** Two rules are about the same thing when target and place are the same; the later one then replaces the earlier. */
export const sameSubject = (a: Rule, b: Rule): boolean => subject(a) === subject(b)

const subject = ({ addon, feature, file, setting, place, condition }: Rule) =>
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
  return JSON.stringify(place.level === 'set' ? [place.level, [...place.paths].sort()] : Object.entries(place).sort())
}

/** The live rules with the drafts on top. */
export function mergeRules(live: readonly Rule[], drafts: readonly Rule[]): Rule[] {
  return [...live.filter((rule) => !drafts.some((draft) => sameSubject(rule, draft))), ...drafts]
}

/** The pages that at least one of the rules is about. */
export function coveredPages<P extends RulePage>(rules: readonly Rule[], pages: readonly P[]): P[] {
  return pages.filter((page) => rules.some((rule) => placeCovers(rule.place, page)))
}
