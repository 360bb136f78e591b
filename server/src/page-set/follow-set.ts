import type { Rule } from '@unvelt/core'
import type { RuleInput } from '@unvelt/contract'
import { subject, type DraftRule } from '../rule/merge-rules.js'

/** Whether a rule says a set's name. */
export const namesSet = ({ place }: Rule, name: string): boolean => place.level === 'set' && place.name === name

/** A set as it was called, and as it is now. */
export interface SetChange {
  from: string
  name: string
  paths: string[]
}

/**
 * What is to be drafted so that live rules follow a set that has changed; nothing where all of it stays as it was.
 * @param drafts As they are once they have followed: what is drafted already says what becomes of its live rule.
 */
export function draftsToFollow(
  live: readonly Rule[],
  drafts: readonly DraftRule[],
  { from, name, paths }: SetChange,
): RuleInput[] {
  const drafted = new Set(drafts.map(subject))
  return live
    .filter((rule) => namesSet(rule, from))
    .flatMap((rule) => {
      if (from === name && isSame(rule, paths)) return []
      const input = inputOf(rule)
      const follows: RuleInput = { ...input, place: { level: 'set', paths, name } }
      const isDrafted = drafted.has(subject({ ...rule, place: { level: 'set', paths, name } }))
      // A rule on another name is another rule, so the one before has to go.
      return [...(from === name ? [] : [{ ...input, removed: true }]), ...(isDrafted ? [] : [follows])]
    })
}

/** A draft that says the set's name follows where it stands. */
export function followed(rule: DraftRule, { from, name, paths }: SetChange): DraftRule | null {
  if (!namesSet(rule, from) || rule.removed) return null
  return { ...rule, place: { level: 'set', paths, name } }
}

function isSame({ place }: Rule, paths: readonly string[]): boolean {
  if (place.level !== 'set') return false
  const known = new Set(place.paths)
  return known.size === new Set(paths).size && paths.every((path) => known.has(path))
}

function inputOf({ id: _, made: __, madeFor: ___, ...rule }: Rule): RuleInput {
  return rule
}
