import fc from 'fast-check'
import { USE_WORDS, type UseWord } from '../src/index.js'
import { casePages, type PageCase } from './case-pages.js'

const page = fc.record<PageCase>({
  path: fc.constantFrom('/a', '/b', '/c'),
  area: fc.constantFrom('public', 'office'),
  views: fc.option(fc.nat(1000)),
  word: fc.constantFrom<UseWord>(...USE_WORDS),
  transferBytes: fc.nat(1e6),
  serverMs: fc.nat(100),
  mainThreadMs: fc.nat(40),
  requests: fc.nat(9),
})
const close = (a: number, b: number) => expect(a).toBeCloseTo(b, 4)

it('groups of pages come to what their pages come to one by one', () =>
  fc.assert(
    fc.property(fc.array(page), fc.nat(5000), fc.constantFrom(...USE_WORDS), (pages, total, wanted) => {
      const of = casePages(pages, { total, pages: pages.length })
      const share = ({ views }: PageCase) => 1000 * (total > 0 ? (views ?? 0) / total : 1 / Math.max(1, pages.length))
      const which = (word: UseWord, isPublic: boolean) => word === wanted && isPublic
      const some = pages.filter(({ word, area }) => which(word, area === 'public'))
      const group = of.of(which)
      expect(of.length).toBe(pages.length)
      expect(group.pages).toBe(some.length)
      expect(of.has(which)).toBe(some.length > 0)
      expect(of.paths(which)).toEqual(some.map(({ path }) => path))
      for (const measure of ['requests', 'transferBytes', 'serverMs', 'mainThreadMs'] as const) {
        close(group[measure], some.reduce((sum, each) => sum + each[measure], 0)) // prettier-ignore
        close(group.inThousand[measure], some.reduce((sum, each) => sum + each[measure] * share(each), 0)) // prettier-ignore
      }
      close(group.inThousand.views, some.reduce((sum, each) => sum + share(each), 0)) // prettier-ignore
      const heavy = pages.filter(
        (each) => each.area === 'public' && each.word !== 'not seen' && each.mainThreadMs >= 20,
      )
      expect(of.heavy.group.pages).toBe(heavy.length)
      expect(of.heavy.mostMs).toBe(Math.max(0, ...heavy.map(({ mainThreadMs }) => mainThreadMs)))
    }),
  ))
