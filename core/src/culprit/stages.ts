import { isLead, type Suspicion } from './suspicion.js'
import { narrow, type Tried } from './narrow.js'

/**
 * What is looked through one after the other: add-ons, the features of the guilty one, its files, and its other versions. For what guards
 * miss first what changed since it was there, put back as it was, and then add-ons left out.
 */
export const CAUSE_LEVELS = ['earlier', 'absent', 'addon', 'feature', 'file', 'version'] as const
export type CauseLevel = (typeof CAUSE_LEVELS)[number]

/** The search at one level. `changes` of what was tried are those that were there; of what mends, those that were put back or left out. */
export interface CauseStage {
  level: CauseLevel
  /** What is asked is not whether something shows with these alone, but whether it is well again with these put back or left out. */
  mends?: true
  suspects: Suspicion[]
  tries: Tried[]
  /**
   * Null while it goes on. `found`: the fewest that must be there are known. `without`: the page complains without any of them
   * too, so it is none of these. `never`: with all of them it does not complain, or not always. Of what mends, `found` are the fewest
   * that mend it, `without` says that none does, and `never` that nothing is to mend. Of versions, `found` is one in the place
   * of the guilty one with which the page does not complain, and `without` says that it does with each.
   */
  outcome: null | 'found' | 'without' | 'never'
  found: string[]
}

export type NextOfStage = { ask: string[]; readings: number } | Pick<CauseStage, 'outcome' | 'found'>

/** What a stage asks next, by what was answered so far alone, so that it goes on wherever it was broken off. */
export const nextOf = (stage: Pick<CauseStage, 'level' | 'suspects' | 'tries' | 'mends'>, sure: number): NextOfStage =>
  stage.level === 'version'
    ? nextOfVersions(stage, sure)
    : stage.mends
      ? nextOfMending(stage, sure)
      : nextOfStage(stage, sure)

/**
 * What mends: first whether there is anything to mend, then all together that something speaks for, and the fewest of these; else one
 * after the other. What is left out takes its own with it, and what needs it, so that nothing is to be concluded from many at once.
 */
function nextOfMending({ suspects, tries }: Pick<CauseStage, 'suspects' | 'tries'>, sure: number): NextOfStage {
  const answered = (set: readonly string[]) =>
    tries.find(({ changes }) => changes.length === set.length && set.every((id) => changes.includes(id)))
  const asIs = answered([])
  if (!asIs) return { ask: [], readings: 1 }
  if (asIs.fails) return { outcome: 'never', found: [] }
  const lead = suspects.filter(isLead).map(({ id }) => id)
  if (lead.length > 1) {
    const together = answered(lead)
    if (!together) return { ask: lead, readings: sure }
    if (together.fails) {
      const within = tries.filter(({ changes }) => changes.every((id) => lead.includes(id)))
      const next = narrow(lead, within, lead.length, sure)
      return 'ask' in next ? next : { outcome: 'found', found: next.found }
    }
  }
  for (const { id } of suspects) {
    const alone = answered([id])
    if (!alone) return { ask: [id], readings: sure }
    if (alone.fails) return { outcome: 'found', found: [id] }
  }
  return { outcome: 'without', found: [] }
}

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
