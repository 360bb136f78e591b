import fc from 'fast-check'
import { usedPictures, type DrawnPicture } from '../src/picture/drawn-picture.js'
import { leastQuality } from '../src/picture/least-quality.js'
import { neededSize } from '../src/picture/needed-size.js'
import { picturesOverPages, type PictureOnPage } from '../src/picture/pictures-over-pages.js'
import { pictureMove } from '../src/standing/picture-move.js'

const drawn = (over: Partial<DrawnPicture>): DrawnPicture => ({
  url: '/oak.jpg',
  width: 100,
  height: 50,
  where: 'further down',
  lazy: true,
  isLargest: false,
  ...over,
})

describe('a picture that is drawn in several places', () => {
  it('is needed as large as the largest of them, and is as far up as the foremost', () => {
    const [oak, elm] = usedPictures([
      {
        drawn: [
          drawn({}),
          drawn({ url: '/elm.jpg', where: 'not shown' }),
          drawn({ width: 40, height: 80.2, where: 'in view', lazy: false, isLargest: true }),
        ],
        ratio: 2,
      },
    ])
    expect(oak).toMatchObject({
      url: '/oak.jpg',
      times: 2,
      width: 200,
      height: 161,
      where: 'in view',
      lazy: false,
      isLargest: true,
    })
    expect(elm).toMatchObject({ times: 1, width: 0, height: 0, where: 'not shown' })
  })

  it('is needed as large as the lens that draws it largest, in the pixels of that device', () => {
    const desk = { drawn: [drawn({ width: 480, height: 240 }), drawn({ url: '/wide.jpg', width: 1280 })], ratio: 1 }
    const handset = {
      drawn: [drawn({ width: 350, height: 175, where: 'in view', lazy: false }), drawn({ url: '/narrow.jpg' })],
      ratio: 2,
    }
    const [oak, wide, narrow] = usedPictures([desk, handset])
    expect(oak).toMatchObject({ times: 1, width: 700, height: 350, where: 'in view', lazy: false })
    expect(oak!.drawnThrough).toMatchObject([
      { through: 0, width: 480, where: 'further down', lazy: true },
      { through: 1, width: 700, where: 'in view', lazy: false },
    ])
    // Where the browser chose another file for the other device, that one needs no more than its own.
    expect(wide!.drawnThrough).toMatchObject([{ through: 0, width: 1280 }])
    expect(narrow!.drawnThrough).toMatchObject([{ through: 1, width: 200 }])
  })
})

describe('the size that a file needs', () => {
  const size = fc.record({ width: fc.integer({ min: 1, max: 9_000 }), height: fc.integer({ min: 1, max: 9_000 }) })
  it('covers what it is drawn in, is never larger than the file, and keeps its proportions to a pixel', () => {
    fc.assert(
      fc.property(size, size, (file, box) => {
        const { width, height } = neededSize(file, box)
        expect(width).toBeLessThanOrEqual(file.width)
        expect(height).toBeLessThanOrEqual(file.height)
        expect(width).toBeGreaterThanOrEqual(Math.min(file.width, box.width))
        expect(height).toBeGreaterThanOrEqual(Math.min(file.height, box.height))
        expect(Math.abs(width - (height * file.width) / file.height)).toBeLessThanOrEqual(1 + file.width / file.height)
      }),
    )
  })
  it('is its own where it is not drawn', () =>
    expect(neededSize({ width: 30, height: 20 }, { width: 0, height: 0 })).toEqual({ width: 30, height: 20 }))
})

describe('the least quality', () => {
  it('is what going through all of them finds, with no more tries than halving takes', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 20 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        async (values, bound) => {
          const similarities = [...values].sort((a, b) => a - b)
          let tries = 0
          const found = await leastQuality(
            similarities.map((_, n) => n),
            bound,
            async (quality) => {
              tries++
              return { quality, similarity: similarities[quality]! }
            },
          )
          const expected = similarities.findIndex((similarity) => similarity >= bound)
          expect(found?.quality ?? -1).toBe(expected)
          expect(tries).toBeLessThanOrEqual(Math.ceil(Math.log2(similarities.length + 1)))
        },
      ),
    )
  })
})

describe('the pictures of all pages', () => {
  const picture = (over: Partial<PictureOnPage>): PictureOnPage => ({
    url: '/oak.jpg',
    hash: 'oak',
    bytes: 1000,
    neededWidth: 100,
    neededHeight: 50,
    lightest: 400,
    where: 'in view',
    lazy: false,
    ...over,
  })
  const page = (pageId: number, views: number | null, ...pictures: PictureOnPage[]) => ({ pageId, views, pictures })

  it('stand once each, as they are where they are needed largest, weighted by visits', () => {
    const [elm, oak] = picturesOverPages(
      [
        page(1, 30, picture({}), picture({ url: '/elm.jpg', hash: 'elm', lightest: 100 })),
        page(2, 10, picture({ url: '/oak-2.jpg' }), picture({ url: '/oak.jpg', neededWidth: 200, lightest: 700 })),
        page(3, 60, picture({ url: '/elm.jpg', hash: 'elm', lightest: 100, lazy: true, where: 'further down' })),
      ],
      { views: 100, pages: 3 },
    )
    // 300 + 100 of 1,000 views, 300 bytes less of each where it is needed largest; and 1,000 twice in 100 of them.
    expect(oak).toMatchObject({ pageIds: [1, 2], comesOn: 2, addresses: ['/oak.jpg', '/oak-2.jpg'], twice: 100_000 })
    expect(oak!.foremost).toMatchObject({ pageId: 2, n: 1 })
    expect(oak!.spared).toBeCloseTo(120_000)
    // Scrolled to on the third page, so not counted there.
    expect(elm!.spared).toBeCloseTo(270_000)
    expect(elm!.pageIds).toEqual([1, 3])
  })

  it('are one move, of those that are worth it, and none where they are too small to matter', () => {
    const site = picturesOverPages(
      [
        page(1, 50, picture({}), picture({ url: '/dot.png', hash: 'dot', bytes: 10, lightest: 9 })),
        page(2, 50, picture({ lazy: true, where: 'further down' })),
      ],
      { views: 100, pages: 2 },
    )
    // 600 bytes in 500 of 1,000 views, at 200 bytes a millisecond; one page has it at once.
    expect(pictureMove(site, 1000)).toMatchObject({
      type: 'pictures',
      reason: expect.stringContaining('One picture was'),
      spared: { pages: 2, transferBytes: 600, requests: 0 },
      waitingMs: 1500,
      rules: [],
    })
    expect(pictureMove(site, 400_000)).toBeNull()
    expect(
      pictureMove(picturesOverPages([page(1, 1, picture({ bytes: 500, lightest: 400 }))], { views: 1, pages: 1 }), 0),
    ).toBeNull()
  })

  it('count alike where no visits are known, and no picture is lost or stands twice', () => {
    const alike = picturesOverPages([page(1, null, picture({})), page(2, null)], { views: 0, pages: 4 })
    // Two of four were looked at; the others are visited as well.
    expect(alike[0]!.spared).toBeCloseTo(150_000)
    const some = fc.record({
      url: fc.constantFrom('/a', '/b', '/c'),
      hash: fc.constantFrom('', 'x', 'y'),
      bytes: fc.constant(1000),
      neededWidth: fc.nat(500),
      neededHeight: fc.nat(500),
      lightest: fc.option(fc.nat(1500)),
      where: fc.constantFrom('in view' as const, 'further down' as const, 'not shown' as const),
      lazy: fc.boolean(),
    })
    const pages = fc.array(
      fc.record({ pageId: fc.nat(9), views: fc.option(fc.nat(50)), pictures: fc.array(some, { maxLength: 6 }) }),
      { maxLength: 8 },
    )
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(9), { maxLength: 8 }), pages, (ids, given) => {
        const site = ids.slice(0, given.length).map((pageId, n) => ({ ...given[n]!, pageId }))
        const views = site.reduce((sum, one) => sum + (one.views ?? 0), 0)
        const found = picturesOverPages(site, { views, pages: site.length })
        const keys = site.flatMap(({ pictures }) => pictures.map(({ hash, url }) => hash || url))
        expect(found).toHaveLength(new Set(keys).size)
        for (const one of found) {
          expect(new Set(one.pageIds).size).toBe(one.pageIds.length)
          expect(one.spared).toBeGreaterThanOrEqual(0)
          expect(one.spared).toBeLessThanOrEqual(1000 * 1000 + 1e-6)
          const at = site.find(({ pageId }) => pageId === one.foremost.pageId)!
          expect(at.pictures[one.foremost.n]).toBe(one.foremost.picture)
        }
      }),
    )
  })
})
