import type { Suspicion } from './suspicion.js'
import { narrow, type Tried } from './narrow.js'

/** What is looked through one after the other: add-ons, the features of the guilty one, its files, and its other versions. */
export const CAUSE_LEVELS = ['addon', 'feature', 'file', 'version'] as const
export type CauseLevel = (typeof CAUSE_LEVELS)[number]

/** The search at one level. `changes` of what was tried are those that were there. */
export interface CauseStage {
  level: CauseLevel
  suspects: Suspicion[]
  tries: Tried[]
  /**
   * Null while it goes on. `found`: the fewest that must be there are known. `without`: the page complains without any of them
   * too, so it is none of these. `never`: with all of them it does not complain, or not always. Of versions, `found` is one in the place
   * of the guilty one with which the page does not complain, and `without` says that it does with each.
   */
  outcome: null | 'found' | 'without' | 'never'
  found: string[]
}

export type NextOfStage = { ask: string[]; readings: number } | Pick<CauseStage, 'outcome' | 'found'>

/** What a stage asks next, by what was answered so far alone, so that it goes on wherever it was broken off. */
export const nextOf = (stage: Pick<CauseStage, 'level' | 'suspects' | 'tries'>, sure: number): NextOfStage =>
  stage.level === 'version' ? nextOfVersions(stage, sure) : nextOfStage(stage, sure)

/** Other versions in the place of the guilty one: one at a time, until the page does not complain with one. */
function nextOfVersions({ suspects, tries }: Pick<CauseStage, 'suspects' | 'tries'>, sure: number): NextOfStage {
  for (const { id } of suspects) {
    const tried = tries.find(({ changes }) => changes[0] === id)
    if (!tried) return { ask: [id], readings: sure }
    if (!tried.fails) return { outcome: 'found', found: [id] }
  }
  return { outcome: 'without', found: [] }
}

/**
 * What a stage asks next: first the page with all of them, then with none, since either tells more than any search, then what the
 * search wants (see `narrow`). It is worked out from what was answered, so that it goes on wherever it was broken off.
 * @param sure In how many readings a complaint must have shown to be there.
 */
export function nextOfStage({ suspects, tries }: Pick<CauseStage, 'suspects' | 'tries'>, sure: number): NextOfStage {
  const all = suspects.map(({ id }) => id)
  const answered = (set: readonly string[]) => tries.find(({ changes }) => changes.length === set.length)
  const whole = answered(all)
  if (!whole) return { ask: all, readings: sure }
  if (!whole.fails) return { outcome: 'never', found: [] }
  if (all.length === 0) return { outcome: 'without', found: [] }
  const none = answered([])
  if (!none) return { ask: [], readings: sure }
  if (none.fails) return { outcome: 'without', found: [] }
  const next = narrow(all, tries, suspects.filter(({ reasons }) => reasons.some((one) => one !== 'there')).length, sure)
  return 'ask' in next ? next : { outcome: 'found', found: next.found }
}
