import fc from 'fast-check'
import { usedPictures, type DrawnPicture } from '../src/picture/drawn-picture.js'
import { leastQuality } from '../src/picture/least-quality.js'
import { neededSize } from '../src/picture/needed-size.js'

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
    const [oak, elm] = usedPictures(
      [
        drawn({}),
        drawn({ url: '/elm.jpg', where: 'not shown' }),
        drawn({ width: 40, height: 80.2, where: 'in view', lazy: false, isLargest: true }),
      ],
      2,
    )
    expect(oak).toEqual({
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
