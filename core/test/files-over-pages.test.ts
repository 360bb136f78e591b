import fc from 'fast-check'
import { fileMove, filesOverPages, pagesWithAll, type LoadedFile } from '../src/index.js'

const file = (url: string, bytes: number, packed: number, minified: number | null = null, isOwn = true) => ({
  ...{ url, bytes, encoding: '', plain: bytes, gzip: packed, brotli: packed, isOwn },
  minified: minified === null ? null : { plain: bytes / 2, gzip: minified, brotli: minified },
})

describe('pages that have all files', () => {
  const anyFiles = fc
    .uniqueArray(fc.tuple(fc.integer({ min: 0, max: 30 }), fc.uniqueArray(fc.integer({ min: 1, max: 12 }))), {
      selector: ([n]) => n,
    })
    .map((all) => all.map(([n, pageIds]): LoadedFile => ({ url: `/${n}.js`, pageIds })))

  it('have every file that any page has which can be looked at, and none of them is there for nothing', () => {
    fc.assert(
      fc.property(anyFiles, fc.uniqueArray(fc.integer({ min: 1, max: 12 })), (files, ids) => {
        const may = new Set(ids)
        const chosen = pagesWithAll(files, may)
        expect(chosen.every((id) => may.has(id))).toBe(true)
        const on = (pages: readonly number[]) => files.filter(({ pageIds }) => pageIds.some((id) => pages.includes(id)))
        expect(on(chosen)).toEqual(on(ids))
        // Each brings something that those before it have not.
        chosen.forEach((_, at) =>
          expect(on(chosen.slice(0, at + 1)).length).toBeGreaterThan(on(chosen.slice(0, at)).length),
        )
      }),
    )
  })

  it('are few where one has most of them', () => {
    const files = Array.from({ length: 40 }, (_, n) => ({ url: `/${n}.js`, pageIds: n < 38 ? [1, 2, 3, 4] : [n] }))
    expect(pagesWithAll(files, new Set([1, 2, 3, 4, 38, 39]))).toEqual([1, 38, 39])
  })
})

const views = new Map([
  [1, { views: 900 }],
  [2, { views: 100 }],
])
const visits = { views: 1000, pages: 2 }

it('a file spares by how often the pages that load it are seen, packing and minifying apart', () => {
  const loaded = [
    { url: '/all.js', pageIds: [1, 2] },
    { url: '/rare.js', pageIds: [2] },
    { url: '/unweighed.js', pageIds: [1] },
    { url: '/office.js', pageIds: [7] },
  ]
  const weighed = [file('/all.js', 10_000, 4000, 3000), file('/rare.js', 50_000, 20_000), file('/office.js', 9000, 10)]
  const found = filesOverPages(loaded, new Map(weighed.map((one) => [one.url, one])), views, visits)
  expect(
    found.map(({ file: { url }, spared, sparedByPacking, bytes }) => [url, spared, sparedByPacking, bytes]),
  ).toEqual([
    ['/all.js', 7_000_000, 6_000_000, 3000],
    ['/rare.js', 3_000_000, 3_000_000, 20_000],
    // Nobody who visits sees the page that loads it.
    ['/office.js', 0, 0, 10],
  ])
  // Where no views are known every page counts alike.
  const alike = filesOverPages(loaded, new Map(weighed.map((one) => [one.url, one])), new Map([[2, { views: null }]]), {
    views: 0,
    pages: 2,
  })
  expect(alike[0]).toMatchObject({ file: { url: '/rare.js' }, spared: 15_000_000 })
})

it('one move takes all that are the site’s own and worth it, and there is none for little', () => {
  const loaded = ['/a.js', '/b.js', '/theirs.js', '/small.js'].map((url) => ({ url, pageIds: [1, 2] }))
  const weighed = new Map(
    [
      file('/a.js', 200_000, 60_000),
      file('/b.js', 90_000, 90_000, 40_000),
      file('/theirs.js', 900_000, 100_000, null, false),
      file('/small.js', 900, 800),
    ].map((one) => [one.url, one]),
  )
  const found = filesOverPages(loaded, weighed, views, visits)
  const move = fileMove(found, 1_000_000)!
  expect(move).toMatchObject({ type: 'files', spared: { pages: 2, transferBytes: 2 * (140_000 + 50_000) } })
  expect(move.reason).toMatch(
    /^2 files of the site’s own, 1 of them lighter when the server packs them, 1 when minified/,
  )
  expect(move.waitingMs).toBeGreaterThan(0)
  expect(fileMove(found, 1e9)).toBeNull()
  expect(fileMove([], 0)).toBeNull()
})
