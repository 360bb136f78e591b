import { USE_WORDS } from '@unvelt/core'
import type { Page } from '@unvelt/contract'
import { packCells } from '@unvelt/contract'
import { summedCells } from '../src/ledger/cell-sums.js'
import { KnownCasePages } from '../src/standing/known-case-pages.js'

const page = (id: number, change: Partial<Page> = {}) =>
  ({
    id,
    path: `/${id}`,
    title: '',
    kind: '',
    area: 'public',
    views: id,
    signedIn: false,
    modified: null,
    ...change,
  }) as Page
const PAGES = [page(1), page(2), page(3)]
const VIEWS = { total: 6, pages: 3 }
const words = (...said: (typeof USE_WORDS)[number][]) => Uint8Array.from(said, (word) => USE_WORDS.indexOf(word))

/** Three pages on which one add-on weighs 100, 200 and 300 bytes. */
const sums = () => {
  const cells = Int32Array.of(1, 1, 1)
  const times = Float32Array.of(0, 0, 0)
  return summedCells(
    packCells({ pages: [1, 2, 3], payers: ['gallery'] }, Int32Array.of(0, 1, 2), Int32Array.of(0, 0, 0), {
      requests: cells,
      transferBytes: Int32Array.of(100, 200, 300),
      decodedBytes: cells,
      idleBytes: cells,
      mainThreadMs: times,
      serverMs: times,
      queries: cells,
      queryMs: times,
    }),
  )
}

const used = (word: string) => word === 'used'

it('what has not changed is not summed up again, and what has changed is', () => {
  const known = new KnownCasePages()
  const of = sums()
  const told = words('used', 'not seen', 'used')
  const ask = (pages: Page[], column: Uint8Array, views = VIEWS) =>
    known.of(known.site(of, pages, views), of.of[0], column)
  const first = ask(PAGES, told)
  expect(first.of(used).transferBytes).toBe(400)
  expect(ask([...PAGES], told.slice())).toBe(first)
  // A title is nothing that anything is summed by.
  expect(ask([page(1, { title: 'Meadow' }), page(2), page(3)], told)).toBe(first)

  expect(ask(PAGES, words('used', 'used', 'used')).of(used).transferBytes).toBe(600)
  expect(ask(PAGES, told).of(used).transferBytes).toBe(400)
  expect(ask([page(1, { path: '/first' }), page(2), page(3)], told).paths(used)).toEqual(['/first', '/3'])
  const office = ask([page(1, { area: 'admin' }), page(2), page(3)], told)
  expect(office.of((_, isPublic) => isPublic).transferBytes).toBe(500)
  const often = ask([page(1, { views: 94 }), page(2), page(3)], told, { total: 99, pages: 3 })
  expect(often.of(used).inThousand.views).toBeCloseTo((1000 * 97) / 99)
  expect(ask(PAGES.slice(1), told.slice(1), { total: 5, pages: 2 }).length).toBe(2)
  // Cells of another reading of the same pages.
  const other = sums()
  expect(known.of(known.site(other, PAGES, VIEWS), other.of[0], told)).not.toBe(ask(PAGES, told))
})

it('an add-on that costs nothing has no pages', () => {
  const known = new KnownCasePages()
  expect(known.of(known.site(null, PAGES, VIEWS), undefined, words('used', 'used', 'used')).length).toBe(0)
})
