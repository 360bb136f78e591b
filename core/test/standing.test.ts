import fc from 'fast-check'
import { nextMoves, NO_PAGES, whatChanged, type AddOnCase, type UseWord } from '../src/index.js'
import { casePages, type PageCase } from './case-pages.js'

const VIEWS = { total: 1000, pages: 4 }
const page = (n: number, word: UseWord, more: Partial<PageCase> = {}): PageCase => ({
  path: `/${n}`,
  area: 'public',
  views: 250,
  word,
  transferBytes: 20_000,
  serverMs: 10,
  mainThreadMs: 5,
  requests: 2,
  ...more,
})
const on = (...pages: PageCase[]) => casePages(pages, VIEWS)
const addOn = (more: Partial<AddOnCase>): AddOnCase => ({
  slug: 'form',
  name: 'Form',
  kind: 'plugin',
  active: true,
  works: null,
  neededBy: [],
  told: true,
  canSkip: true,
  jobs: [],
  outsideHosts: [],
  features: [],
  verdict: 'undecided',
  tableBytes: 0,
  usedOn: [],
  pages: NO_PAGES,
  ...more,
})
const moves = (...cases: AddOnCase[]) => nextMoves(cases)

describe('next moves', () => {
  it('confine what is used on one page and loaded on all, by a rule that keeps it there', () => {
    const [move] = moves(
      addOn({ usedOn: ['/1'], pages: on(page(1, 'used'), page(2, 'not seen'), page(3, 'not seen')) }),
    )
    expect(move).toMatchObject({
      type: 'confine',
      certainty: 'the site says so',
      spared: { pages: 2, requests: 4, transferBytes: 40_000 },
      // Two quarters of a thousand views: 10 ms of server, 5 of browser and 100 of transfer each.
      waitingMs: 2 * 250 * 115,
      rules: [
        { effect: 'skip', place: { level: 'area', area: 'public' } },
        { effect: 'keep', place: { level: 'page', path: '/1' } },
      ],
    })
  })
  it('touch only the pages that are known where others are not', () =>
    expect(
      moves(addOn({ usedOn: ['/1'], pages: on(page(1, 'used'), page(2, 'not seen'), page(3, 'unknown')) }))[0],
    ).toMatchObject({
      type: 'confine',
      rules: [{ effect: 'skip', place: { level: 'page', path: '/2' } }],
    }))
  it('retire what shows no use anywhere', () =>
    expect(moves(addOn({ pages: on(page(1, 'not seen'), page(2, 'not seen')) }))[0]).toMatchObject({ type: 'retire' }))
  it('hold heavy code of outsiders, which is not removing it', () =>
    expect(
      moves(addOn({ outsideHosts: ['far.test'], pages: on(page(1, 'unknown', { mainThreadMs: 90 })) }))[0],
    ).toMatchObject({
      type: 'hold',
      postponed: true,
    }))
  it('serve typefaces from the own host, name idle features, and what is switched off', () =>
    expect(
      moves(
        addOn({ slug: 'face', kind: 'font', outsideHosts: ['far.test'], pages: on(page(1, 'used')) }),
        addOn({
          slug: 'builder',
          features: [
            { name: 'A', on: true, uses: 3 },
            { name: 'B', on: true, uses: 0 },
            { name: 'C', on: true, uses: 0 },
          ],
        }),
        addOn({ slug: 'old', active: false }),
      ).map(({ key }) => key),
    ).toEqual(['local:face', 'features:builder', 'switched off:old']))
  it('name the heavier of two that do one job, where both are known', () => {
    const two = (word: UseWord) =>
      moves(
        addOn({
          slug: 'light',
          name: 'Light',
          jobs: ['share'],
          usedOn: ['/1'],
          pages: on(page(1, 'used', { transferBytes: 1 })),
        }),
        addOn({ slug: 'heavy', name: 'Heavy', jobs: ['share'], usedOn: ['/1'], pages: on(page(1, word)) }),
      )
    expect(two('used')).toMatchObject([{ key: 'same job:share', addon: 'heavy', others: ['light'] }])
    expect(two('unknown')).toEqual([])
  })
  it('leave alone what a verdict keeps', () =>
    expect(moves(addOn({ verdict: 'keep', pages: on(page(1, 'not seen')) }))).toEqual([]))

  const words = fc.constantFrom<UseWord>('used', 'works unseen', 'planned', 'not seen', 'unknown')
  const cases = fc.array(
    fc
      .record({
        slug: fc.constantFrom('a', 'b', 'c', 'd', 'e'),
        works: fc.constantFrom(null, 'unseen' as const, 'once' as const),
        neededBy: fc.subarray(['a', 'b']),
        jobs: fc.subarray(['x', 'y']),
        pages: fc.array(words, { maxLength: 4 }),
        active: fc.boolean(),
      })
      .map(({ pages, ...rest }) => {
        const list = pages.map((word, n) => page(n, word))
        return addOn({
          ...rest,
          pages: on(...list),
          usedOn: list.filter(({ word }) => word === 'used').map(({ path }) => path),
        })
      }),
  )
  it('never remove what works unseen, is planned, is unknown there, or is needed by others', () =>
    fc.assert(
      fc.property(cases, (list) => {
        const unique = [...new Map(list.map((each) => [each.slug, each])).values()]
        for (const move of nextMoves(unique)) {
          const of = unique.find(({ slug }) => slug === move.addon)!
          if (!['retire', 'confine', 'same job'].includes(move.type)) continue
          expect(of.works).toBeNull()
          expect(of.pages.has((word) => word === 'planned')).toBe(false)
          expect(of.neededBy.some((slug) => unique.some((each) => each.slug === slug && each.active))).toBe(false)
          if (move.type === 'retire') expect(of.pages.has((word) => word !== 'not seen')).toBe(false)
          if (move.type === 'same job') expect(of.pages.has((word) => word === 'unknown')).toBe(false)
          const touched = move.rules.filter(({ effect }) => effect !== 'keep')
          const broad = touched.some(({ place }) => place.level !== 'page' && place.level !== 'set')
          if (broad) expect(of.pages.has((word) => word !== 'not seen' && word !== 'used')).toBe(false)
        }
      }),
    ))
})

describe('what changed', () => {
  const payer = (slug: string, transferBytes: number) => ({ slug, name: slug, requests: 1, transferBytes, serverMs: 0 })
  const entry = (slug: string, version = '1') => ({ slug, name: slug, version, active: true })
  it('is what came, went, was updated or grew beyond the threshold, heaviest first', () =>
    expect(
      whatChanged(
        {
          payers: [payer('old', 90_000), payer('same', 100_000), payer('grown', 100_000), payer('up', 10)],
          installed: ['old', 'same', 'grown', 'up'].map((slug) => entry(slug)),
        },
        {
          payers: [
            payer('same', 104_000),
            payer('grown', 200_000),
            payer('up', 50),
            payer('fresh', 70_000),
            payer('outside:far.test', 5),
          ],
          installed: [entry('same'), entry('grown'), entry('up', '2'), entry('fresh')],
        },
        0.05,
      ).map(({ type, slug }) => `${type} ${slug}`),
    ).toEqual(['heavier grown', 'gone old', 'new fresh', 'updated up', 'new outsider outside:far.test']))
  it('is nothing between a sweep and itself', () =>
    fc.assert(
      fc.property(
        fc.array(fc.nat(1e6), { maxLength: 5 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (sizes, threshold) => {
          const then = {
            payers: sizes.map((size, n) => payer(`p${n}`, size)),
            installed: sizes.map((_, n) => entry(`p${n}`)),
          }
          expect(whatChanged(then, then, threshold)).toEqual([])
        },
      ),
    ))
  it('calls nothing new where the older sweep knew no inventory', () =>
    expect(whatChanged({ payers: [], installed: [] }, { payers: [], installed: [entry('a')] }, 0)).toEqual([]))
})
