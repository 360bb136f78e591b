import fc from 'fast-check'
import {
  EFFECTS,
  onFirstPages,
  resolve,
  type ResolvedEffect,
  type Rule,
  type RulePage,
  type Visit,
} from '../src/index.js'

const swap: RulePage = { path: '/events/seed-swap', kind: 'event', area: 'public' }
const walk: RulePage = { path: '/events/owl-walk', kind: 'event', area: 'public' }
const home: RulePage = { path: '/', kind: 'front', area: 'public' }
const PAGES = [swap, walk, home]
const VISITS: Visit[] = (['desk', 'handset'] as const).flatMap((device) =>
  (['signed-out', 'signed-in'] as const).map((visitor) => ({ device, visitor })),
)

const anyRule: fc.Arbitrary<Rule> = fc.record(
  {
    id: fc.uuid(),
    addon: fc.constantFrom('form', 'slider'),
    file: fc.constantFrom('/form.js', '/extra.js'),
    effect: fc.constantFrom(...EFFECTS.filter((effect) => !['set', 'order'].includes(effect))),
    place: fc.constantFrom<Rule['place']>(
      { level: 'everywhere' },
      { level: 'kind', kind: 'event' },
      { level: 'path', pattern: '/events/*' },
      { level: 'set', paths: ['/events/seed-swap', '/'] },
      { level: 'page', path: '/events/seed-swap' },
      { level: 'page', path: '/events/owl-walk' },
    ),
    condition: fc.constantFrom(
      { device: 'desk' as const },
      { visitor: 'signed-in' as const },
      { device: 'handset' as const, visitor: 'signed-out' as const },
    ),
  },
  { requiredKeys: ['id', 'addon', 'effect', 'place'] },
)
const anyRules = fc.uniqueArray(anyRule, { selector: (rule) => rule.id, maxLength: 6 })

/** What happens: to keep what nothing takes away is nothing. */
function happens(rules: Rule[], page: RulePage, visit: Visit): string[] {
  const all = resolve(rules, page, visit)
  const isTaken = (one: ResolvedEffect) =>
    all.some(
      (other) => other !== one && other.addon === one.addon && other.file === undefined && other.effect !== 'keep',
    )
  return all
    .filter((one) => one.effect !== 'keep' || (one.file !== undefined && isTaken(one)))
    .map((one) => `${one.addon} ${one.file ?? ''} ${one.effect} ${one.until ?? ''}`)
    .sort()
}
const isClear = (rules: Rule[]) =>
  PAGES.every((page) =>
    VISITS.every((visit) => resolve(rules, page, visit).every((one) => one.conflictsWith.length === 0)),
  )

it('is on the first pages what is to be, and on all others what was, for every visit', () => {
  fc.assert(
    fc.property(anyRules, anyRules, fc.subarray(PAGES), (before, more, first) => {
      const after = [...before.slice(1), ...more]
      fc.pre(isClear(before) && isClear(after))
      const part = onFirstPages(before, after, first)
      expect(new Set(part.map(({ id }) => id)).size).toBe(part.length)
      for (const page of PAGES)
        for (const visit of VISITS)
          expect(happens(part, page, visit)).toEqual(happens(first.includes(page) ? after : before, page, visit))
    }),
    { numRuns: 200 },
  )
})

it('says what every visit gets in one rule, and of a phone alone in rules for each visit', () => {
  const everywhere = { id: 'a', addon: 'form', effect: 'skip', place: { level: 'everywhere' } } as const
  expect(onFirstPages([], [everywhere], [swap])).toEqual([
    { id: 'first-1', addon: 'form', effect: 'skip', place: { level: 'page', path: swap.path } },
  ])
  const onPhones = { ...everywhere, condition: { device: 'handset' } } as const
  const part = onFirstPages([], [onPhones], [swap])
  expect(part.map(({ condition }) => condition)).toEqual([
    { device: 'handset', visitor: 'signed-out' },
    { device: 'handset', visitor: 'signed-in' },
  ])
  // What goes is kept in so many words, since the broader rule is still there for the other pages.
  expect(onFirstPages([everywhere], [], [swap])).toEqual([
    everywhere,
    { id: 'first-1', addon: 'form', effect: 'keep', place: { level: 'page', path: swap.path } },
  ])
})
