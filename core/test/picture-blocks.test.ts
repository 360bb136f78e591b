import fc from 'fast-check'
import { BLOCK_PX, pictureBlocks, pictureChange, type PictureBlocks } from '../src/guard/picture-blocks.js'

const WIDTH = 80
const HEIGHT = 64
/** Pixels of some rectangles set. */
function mask(...areas: [x: number, y: number, width: number, height: number][]): Uint8Array {
  const pixels = new Uint8Array(WIDTH * HEIGHT)
  for (const [x, y, width, height] of areas)
    for (let row = y; row < y + height; row++) pixels.fill(1, row * WIDTH + x, row * WIDTH + x + width)
  return pixels
}
const blocks = (...areas: Parameters<typeof mask>) => pictureBlocks(mask(...areas), WIDTH, HEIGHT)

const changeOf = (now: PictureBlocks[], without: PictureBlocks[], withRules: PictureBlocks[] = []) =>
  pictureChange({ now, without, withRules })

it('what differs is told by where it is', () => {
  const change = changeOf([blocks([0, 0, 16, 16], [48, 32, 20, 8])], [])
  expect(change.boxes).toEqual([
    { x: 48, y: 32, width: 32, height: 16 },
    { x: 0, y: 0, width: 16, height: 16 },
  ])
  expect(change.share).toBeCloseTo(3 / 20)
  expect(change.moving).toBe(0)
})

it('what moves by itself counts nowhere, nor what lies right beside it', () => {
  const change = changeOf([blocks([0, 0, 32, 16], [64, 48, 16, 16])], [blocks([0, 0, 16, 16])])
  expect(change.boxes).toEqual([{ x: 64, y: 48, width: 16, height: 16 }])
  expect(change.moving).toBeCloseTo(4 / 20)
})

it('what differs in some readings with rules only is not their doing', () => {
  const drifting = [0, 32, 64].map((x) => blocks([x, 0, 16, 16], [48, 48, 16, 16]))
  expect(changeOf(drifting, []).boxes).toEqual([{ x: 48, y: 48, width: 16, height: 16 }])
})

it('what changes from one picture with rules to the next does so by itself, and what stands beside it counts', () => {
  const now = blocks([0, 0, 48, 16])
  const change = changeOf([now, now], [], [blocks([16, 0, 16, 16])])
  expect(change.boxes.map(({ x }) => x)).toEqual([0, 32])
  expect(change.moving).toBeCloseTo(1 / 20)
})

it('a few pixels are what smoothing does', () => {
  expect(changeOf([blocks([3, 3, 3, 1])], []).share).toBe(0)
  expect(changeOf([blocks([3, 3, 4, 1])], []).share).toBeGreaterThan(0)
})

it('a picture that only moves by itself has not changed, and each changed block lies in a box', () => {
  const area = fc.tuple(
    fc.nat(WIDTH - 20),
    fc.nat(HEIGHT - 20),
    fc.integer({ min: 1, max: 20 }),
    fc.integer({ min: 1, max: 20 }),
  )
  fc.assert(
    fc.property(fc.array(area, { maxLength: 6 }), (areas) => {
      const now = blocks(...areas)
      expect(changeOf([now], [now]).share).toBe(0)
      const { boxes } = changeOf([now], [])
      now.differ.forEach((differs, n) => {
        const [x, y] = [(n % now.across) * BLOCK_PX, Math.floor(n / now.across) * BLOCK_PX]
        const inside = boxes.some((b) => x >= b.x && x < b.x + b.width && y >= b.y && y < b.y + b.height)
        if (differs) expect(inside).toBe(true)
      })
    }),
  )
})
