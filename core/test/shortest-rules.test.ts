import fc from 'fast-check'
import { PLAIN_VISIT, resolve, shortestRules, type Rule, type RulePage } from '../src/index.js'

const pages: RulePage[] = [
  ...Array.from({ length: 20 }, (_, n): RulePage => ({ path: `/articles/${n}`, kind: 'article', area: 'public' })),
  ...Array.from({ length: 9 }, (_, n): RulePage => ({ path: `/events/${n}`, kind: 'event', area: 'public' })),
  { path: '/contact', kind: 'page', area: 'public' },
  { path: '/about', kind: 'page', area: 'public' },
  { path: '/office', kind: 'office', area: 'office' },
]
const rulesFor = (wanted: (page: RulePage) => boolean, all = pages) => shortestRules(all, (n) => wanted(all[n]!))

describe('the shortest rules for a selection', () => {
  it('all but one is everywhere with an exception', () => {
    const { rules, paths, catches } = rulesFor(({ path }) => path !== '/contact')
    expect(rules).toEqual([
      { place: { level: 'everywhere' }, keeps: false },
      { place: { level: 'page', path: '/contact' }, keeps: true },
    ])
    expect([paths, catches]).toEqual([1, { later: { kinds: [], areas: [], anywhere: true }, office: true }])
  })

  it('all public pages but one leave the back office alone', () => {
    const { rules, catches } = rulesFor(({ path, area }) => area === 'public' && path !== '/contact')
    expect(rules).toEqual([
      { place: { level: 'area', area: 'public' }, keeps: false },
      { place: { level: 'page', path: '/contact' }, keeps: true },
    ])
    expect(catches.office).toBe(false)
  })

  it('a kind is named, and a few pages beside it are listed', () => {
    const { rules } = rulesFor(({ path, kind }) => kind === 'article' || path === '/events/3' || path === '/events/4')
    expect(rules).toEqual([
      { place: { level: 'kind', kind: 'article' }, keeps: false },
      { place: { level: 'set', paths: ['/events/3', '/events/4'] }, keeps: false },
    ])
  })

  it('some pages of several kinds are a list, and nothing is nothing', () => {
    expect(rulesFor(({ path }) => path === '/about' || path === '/events/1').rules).toEqual([
      { place: { level: 'set', paths: ['/events/1', '/about'] }, keeps: false },
    ])
    expect(rulesFor(() => false).rules).toEqual([])
  })

  const page = fc.record({
    kind: fc.constantFrom('article', 'event', 'page', 'office'),
    area: fc.constantFrom('public' as const, 'office' as const),
    selected: fc.boolean(),
  })

  it('mean the selected pages and no other, and are never longer than a list', () => {
    fc.assert(
      fc.property(fc.array(page, { maxLength: 40 }), (drawn) => {
        const all = drawn.map(({ kind, area }, n): RulePage => ({ path: `/${n}`, kind, area }))
        const { rules, paths } = shortestRules(all, (n) => drawn[n]!.selected)
        const engine = rules.map(({ place, keeps }, n): Rule => ({ id: String(n), addon: 'x', effect: keeps ? 'keep' : 'leave-out', place })) // prettier-ignore
        all.forEach((each, n) => {
          const goes = resolve(engine, each, PLAIN_VISIT).some(({ effect }) => effect === 'leave-out')
          expect(goes).toBe(drawn[n]!.selected)
        })
        const selected = drawn.filter((one) => one.selected).length
        expect(rules.length + 0.125 * paths).toBeLessThanOrEqual((selected > 0 ? 1 : 0) + 0.125 * selected + 1e-9)
      }),
      { numRuns: 1_000 },
    )
  })
})
