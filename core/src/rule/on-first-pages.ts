import { particularsOf } from './particulars.js'
import { resolve, type ResolvedEffect } from './resolve.js'
import type { Condition, Rule, RulePage, Visit } from './rule.js'

/** Every way in which a visit can differ, as far as rules tell visits apart, and the condition that says so. */
const VISITS: Required<Condition>[] = (['desk', 'handset'] as const).flatMap((device) =>
  (['signed-out', 'signed-in'] as const).map((visitor) => ({ device, visitor })),
)

/**
 * Rules by which some pages are what they are to become, and all others stay as they are: what a change is put live by in its
 * first part. On each of these pages every target that either set speaks of has a rule of its own, so that nothing broader
 * has a say there.
 * @param before What holds so far.
 * @param after What is to hold everywhere in the end.
 * @param pages Those that go first.
 */
export function onFirstPages(before: readonly Rule[], after: readonly Rule[], pages: readonly RulePage[]): Rule[] {
  const touched = changedAddOns(before, after)
  const paths = new Set(pages.map(({ path }) => path))
  const stays = before.filter(
    ({ addon, place }) => !(touched.has(addon) && place.level === 'page' && paths.has(place.path)),
  )
  const taken = new Set(before.map(({ id }) => id))
  let n = 0
  const newId = () => {
    do n++
    while (taken.has(`first-${n}`))
    return `first-${n}`
  }
  return [...stays, ...pages.flatMap((page) => rulesOfPage(stays, after, page, touched, newId))]
}

function rulesOfPage(
  stays: readonly Rule[],
  after: readonly Rule[],
  page: RulePage,
  touched: ReadonlySet<string>,
  newId: () => string,
): Rule[] {
  const place = { level: 'page', path: page.path } as const
  const decided = VISITS.map((visit) => ({ visit, effects: wanted(stays, after, page, visit, touched) }))
  const isAlike = decided.every(({ effects }) => saysOf(effects) === saysOf(decided[0]!.effects))
  return (isAlike ? decided.slice(0, 1) : decided).flatMap(({ visit, effects }) =>
    effects.map((effect) => ({
      id: newId(),
      ...targetOf(effect),
      effect: effect.effect,
      ...particularsOf(effect),
      place,
      ...(!isAlike && { condition: visit }),
    })),
  )
}

/** What is to be done to every target that is spoken of; `keep` where it is only spoken of by what is to go. */
function wanted(
  stays: readonly Rule[],
  after: readonly Rule[],
  page: RulePage,
  visit: Visit,
  touched: ReadonlySet<string>,
): ResolvedEffect[] {
  const of = (rules: readonly Rule[]) => resolve(rules, page, visit).filter(({ addon }) => touched.has(addon))
  const [now, then] = [of(stays), of(after)]
  const said = new Set(then.map(keyOf))
  const whole = new Set(then.filter(isWhole).map(({ addon }) => addon))
  // What is said of the whole add-on holds for its parts, unless a part has a rule of its own.
  const kept = now
    .filter((effect) => !said.has(keyOf(effect)) && (isWhole(effect) || !whole.has(effect.addon)))
    .map((effect): ResolvedEffect => ({ ...targetOf(effect), effect: 'keep', rules: [], conflictsWith: [] }))
  return [...then, ...kept]
}

const isWhole = ({ feature, file, setting }: ResolvedEffect) =>
  feature === undefined && file === undefined && setting === undefined

const targetOf = ({ addon, feature, file, setting }: ResolvedEffect) => ({
  addon,
  ...(feature !== undefined && { feature }),
  ...(file !== undefined && { file }),
  ...(setting !== undefined && { setting }),
})

const keyOf = (effect: ResolvedEffect): string => JSON.stringify(targetOf(effect))

const saysOf = (effects: readonly ResolvedEffect[]): string =>
  JSON.stringify(effects.map((effect) => [keyOf(effect), effect.effect, particularsOf(effect)]).sort())

/** Add-ons of which the two sets say different things. */
function changedAddOns(before: readonly Rule[], after: readonly Rule[]): Set<string> {
  const text = (rule: Rule) => JSON.stringify({ ...rule, id: '', note: '', made: '', author: '' })
  const [was, is] = [new Set(before.map(text)), new Set(after.map(text))]
  return new Set(
    [...before.filter((rule) => !is.has(text(rule))), ...after.filter((rule) => !was.has(text(rule)))].map(
      ({ addon }) => addon,
    ),
  )
}
