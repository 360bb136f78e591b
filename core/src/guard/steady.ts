import type { GuardLook } from './guard-look.js'

/**
 * What is in every list of one side and in none of the other's: what comes and goes by itself is not missed.
 */
export function gone(without: readonly (readonly string[])[], withRules: readonly (readonly string[])[]): string[] {
  const others = without.map((list) => new Set(list))
  const always = [...new Set(without[0] ?? [])].filter((entry) => others.every((list) => list.has(entry)))
  const present = new Set(withRules.flat())
  return withRules.length === 0 ? [] : always.filter((entry) => !present.has(entry))
}

/** What is in none of one side's lists and in more than half of the other's. */
export function isNew(without: readonly (readonly string[])[], withRules: readonly (readonly string[])[]): string[] {
  const known = new Set(without.flat())
  const sets = withRules.map((list) => new Set(list))
  const all = [...new Set(withRules.flat())]
  return all.filter((entry) => !known.has(entry) && 2 * sets.filter((set) => set.has(entry)).length > sets.length)
}

/**
 * Whether a page was twice the same in all that guards compare, on each side: then a difference between the sides is hardly chance.
 * What is measured and not listed (places, shifts) is left out: it is never twice the same to the digit.
 */
export const isSteady = (sides: readonly (readonly GuardLook[])[]): boolean =>
  sides.every((looks) => looks.length > 1 && new Set(looks.map(listedIn)).size === 1)

const listedIn = ({
  status,
  title,
  path,
  errors,
  failed,
  landmarks,
  links,
  fields,
  controls,
  steps,
}: GuardLook): string =>
  JSON.stringify([
    [status, title, path],
    ...[errors, failed, links, fields, controls].map((list) => [...list].sort()),
    landmarks.map(({ role, name }) => [role, name]).sort(),
    steps,
  ])
