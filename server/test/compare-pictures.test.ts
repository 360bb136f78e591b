import sharp from 'sharp'
import { comparePictures, endComparing } from '../src/picture/compare-pictures.js'

/** A page of lines with a square in it, as the browser takes pictures. */
function picture({ square = 40, height = 900, width = 400, lines = '#334' } = {}): Promise<Buffer> {
  const bars = Array.from({ length: 40 }, (_, n) => `<rect x="20" y="${20 * n}" width="${60 + ((n * 37) % 200)}" height="9" fill="${lines}"/>`) // prettier-ignore
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="100%" height="100%" fill="#fff"/>${bars.join('')}<rect x="300" y="${square}" width="48" height="48" fill="#080"/></svg>`
  return sharp(Buffer.from(svg)).jpeg({ quality: 60 }).toBuffer()
}
afterAll(() => endComparing())

it('a page that is the same has nothing that differs', async () => {
  const same = await picture()
  expect(await comparePictures({ without: [same, same], withRules: [same] })).toEqual({
    share: 0,
    moving: 0,
    boxes: [],
  })
})

it('what has moved is found in both its places, and what moves by itself is not', async () => {
  const [one, other] = await Promise.all([picture(), picture({ square: 500 })])
  const moved = (await comparePictures({ without: [one, one], withRules: [other] }))!
  expect(moved.share).toBeGreaterThan(0.01)
  const covers = (y: number) => moved.boxes.some((box) => box.x <= 300 && box.y <= y && box.y + box.height >= y + 40)
  expect([covers(44), covers(504)]).toEqual([true, true])
  const byItself = (await comparePictures({ without: [one, other], withRules: [other] }))!
  expect(byItself.share).toBe(0)
  expect(byItself.moving).toBeGreaterThan(0.01)
})

it('a page that has become longer differs below, and one of another width can’t be compared', async () => {
  const [page, longer, wider] = await Promise.all([picture(), picture({ height: 1000, square: 930 }), picture({ width: 500 })]) // prettier-ignore
  const change = (await comparePictures({ without: [page], withRules: [longer] }))!
  expect(change.boxes.some(({ y, height }) => y + height > 930)).toBe(true)
  expect(await comparePictures({ without: [page], withRules: [wider] })).toBeNull()
})

it('a page that differs in every line is told so', async () => {
  const change = await comparePictures({ without: [await picture()], withRules: [await picture({ lines: '#f00' })] })
  expect(change!.share).toBeGreaterThan(0.2)
})
