import type { PageSet, RuleInput } from '@unvelt/contract'

/** Rules on listed pages that have a name together say it. */
export function withSetNames(rules: readonly RuleInput[], sets: readonly PageSet[]): RuleInput[] {
  const named = new Map(sets.map(({ name, paths }) => [keyOf(paths), name]))
  return rules.map((rule) => {
    if (rule.place.level !== 'set' || rule.place.name !== undefined) return rule
    const name = named.get(keyOf(rule.place.paths))
    return name === undefined ? rule : { ...rule, place: { ...rule.place, name } }
  })
}

const keyOf = (paths: readonly string[]) => JSON.stringify([...paths].sort())
