import fc from 'fast-check'
import { staleFigures, type AddOnState, type ReadPage, type Rule, type RuleState } from '../src/index.js'

const DAY = 86_400_000
const visit = { device: 'desk', visitor: 'signed-out' } as const
const page = (id: number, more: Partial<ReadPage> = {}): ReadPage => ({
  id,
  path: `/p${id}`,
  kind: id % 2 ? 'article' : 'event',
  area: 'public',
  readAt: 10 * DAY,
  payers: new Set(['form']),
  modified: null,
  ...more,
})
const form: AddOnState = { slug: 'form', name: 'Enquiry Form', version: '1.2', active: true, featuresOn: 3 }
const rule = (path: string, more: Partial<Rule> = {}): Rule => ({
  id: path,
  addon: 'form',
  effect: 'skip',
  place: { level: 'page', path },
  ...more,
})
const version = (n: number, day: number, ...rules: Rule[]): RuleState => ({ version: n, at: day * DAY, rules })
const look = (
  pages: ReadPage[],
  {
    versions = [],
    before = [form],
    now = [form],
  }: { versions?: RuleState[]; before?: AddOnState[]; now?: AddOnState[] } = {},
) => staleFigures(pages, { versions, before, now, visit })

it('is nothing where nothing happened, and where all was before it was read', () => {
  const versions = [version(1, 3, rule('/p1'))]
  expect(look([page(1, { modified: '1970-01-11' }), page(2)], { versions })).toEqual({ causes: [], pages: [] })
})

it('knows the pages that a change of rules since has made otherwise, each by the changes that it would see', () => {
  const versions = [
    version(1, 3, rule('/p1')),
    version(2, 12, rule('/p1'), rule('/p2')),
    version(3, 13, rule('/p2'), rule('/p3')),
    // What differs by its note is the same.
    version(4, 14, rule('/p2', { note: 'as agreed' }), rule('/p3')),
  ]
  expect(
    look(
      [1, 2, 3, 4].map((id) => page(id)),
      { versions },
    ),
  ).toEqual({
    causes: [
      { kind: 'rules', version: 2 },
      { kind: 'rules', version: 3 },
    ],
    pages: [
      { id: 1, causes: [1] },
      { id: 2, causes: [0] },
      { id: 3, causes: [1] },
    ],
  })
})

it('a change that was taken back since has done nothing, and one that only others see neither', () => {
  const onPhones = rule('/p1', { condition: { device: 'handset' } })
  expect(look([page(1)], { versions: [version(1, 11, rule('/p1')), version(2, 12)] }).pages).toEqual([])
  expect(look([page(1)], { versions: [version(1, 11, onPhones)] }).pages).toEqual([])
  const again = [version(1, 11, rule('/p1')), version(2, 12), version(3, 13, rule('/p1'))]
  expect(look([page(1)], { versions: again }).causes).toEqual([{ kind: 'rules', version: 3 }])
  // Read between the two, it is another page by now.
  const between = page(1, { readAt: 11.5 * DAY })
  expect(look([between], { versions: [version(1, 11, rule('/p1')), version(2, 12)] }).causes).toEqual([
    { kind: 'rules', version: 2 },
  ])
})

it('an add-on that changed makes stale what it has a toll on, and one that came may be anywhere', () => {
  const pages = [page(1), page(2, { payers: new Set() })]
  const after = (change: Partial<AddOnState>) => look(pages, { now: [{ ...form, ...change }] })
  expect(after({ version: '1.3' })).toEqual({
    causes: [{ kind: 'updated', slug: 'form', name: 'Enquiry Form', from: '1.2', to: '1.3' }],
    pages: [{ id: 1, causes: [0] }],
  })
  expect(after({ active: false, version: '1.3' }).causes).toEqual([{ kind: 'off', slug: 'form', name: 'Enquiry Form' }])
  expect(after({ featuresOn: 2 }).pages).toHaveLength(1)
  expect(look(pages, { now: [] })).toMatchObject({ causes: [{ kind: 'went' }], pages: [{ id: 1 }] })
  expect(look(pages, { before: [] })).toMatchObject({ causes: [{ kind: 'came' }], pages: [{ id: 1 }, { id: 2 }] })
  // What is off is on no page, whatever becomes of it.
  const off = { ...form, active: false }
  expect(look(pages, { before: [off], now: [{ ...off, version: '2' }] }).causes).toEqual([])
  expect(look(pages, { before: [off], now: [] }).causes).toEqual([])
})

it('words that were changed on a later day are others; on the same day nobody knows', () => {
  const day = (modified: string) => look([page(1, { modified })]).causes
  expect(day('1970-01-11')).toEqual([])
  expect(day('1970-01-12')).toEqual([{ kind: 'words' }])
})

it('who reads again just what is stale has nothing stale left', () => {
  const anyRules = fc.subarray([rule('/p1'), rule('/p2'), rule('/p3', { effect: 'leave-out' })])
  const anyVersions = fc
    .array(fc.tuple(fc.integer({ min: 1, max: 20 }), anyRules), { maxLength: 5 })
    .map((all) => all.sort(([a], [b]) => a - b).map(([day, rules], n) => version(n + 1, day, ...rules)))
  const anyAddOns = fc.uniqueArray(
    fc.record({
      slug: fc.constantFrom('form', 'slider', 'map'),
      name: fc.constant('x'),
      version: fc.constantFrom('1', '2'),
      active: fc.boolean(),
      featuresOn: fc.constantFrom(1, 2),
    }),
    { selector: ({ slug }) => slug },
  )
  const anyPages = fc.uniqueArray(
    fc.record({
      id: fc.integer({ min: 1, max: 4 }),
      readAt: fc.integer({ min: 0, max: 22 }),
      payers: fc.subarray(['form', 'map']),
    }),
    { selector: ({ id }) => id },
  )
  fc.assert(
    fc.property(anyPages, anyVersions, anyAddOns, anyAddOns, (drawn, versions, before, now) => {
      const pages = drawn.map(({ id, readAt, payers }) => page(id, { readAt: readAt * DAY, payers: new Set(payers) }))
      const { causes, pages: stale } = look(pages, { versions, before, now })
      expect(stale.every((one) => one.causes.length > 0 && one.causes.every((at) => causes[at]))).toBe(true)
      expect(new Set(stale.flatMap((one) => one.causes)).size).toBe(causes.length)
      const again = new Set(stale.map(({ id }) => id))
      const read = pages.map((one) => (again.has(one.id) ? { ...one, readAt: 30 * DAY } : one))
      expect(look(read, { versions, before: now, now }).pages).toEqual([])
    }),
  )
})
