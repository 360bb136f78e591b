import pixelmatch from 'pixelmatch'
import sharp from 'sharp'
import { pictureBlocks, pictureChange, type PictureBlocks, type PictureChange } from '@unvelt/core'

/** Pictures as they were stored: some of the page without rules, and some with them. */
export interface ToCompare {
  without: Uint8Array[]
  withRules: Uint8Array[]
}

const MOST_PIXELS = 40e6
const WHITE = 255

interface Pixels {
  rgba: Uint8Array
  width: number
  height: number
}

/**
 * Runs in a thread of its own: what differs between a page's pictures without rules and with them, beyond what differs without
 * them. Pictures of another width than the first tell nothing; null where none is left to compare.
 */
export default async function compare({ without, withRules }: ToCompare): Promise<PictureChange | null> {
  const [first, ...others] = await Promise.all(without.map(decoded))
  if (!first || others.some(({ width }) => width !== first.width)) return null
  const now = (await Promise.all(withRules.map(decoded))).filter(({ width }) => width === first.width)
  if (now.length === 0) return null
  const height = Math.max(...[first, ...now, ...others].map((picture) => picture.height))
  const to = (base: Pixels) => (other: Pixels) => blocksOf(base, other, height)
  const [firstNow, ...othersNow] = now
  return pictureChange({
    now: now.map(to(first)),
    without: others.map(to(first)),
    withRules: othersNow.map(to(firstNow!)),
  })
}

function blocksOf(a: Pixels, b: Pixels, height: number): PictureBlocks {
  return pictureBlocks(differences(padded(a, height), padded(b, height), a.width, height), a.width, height)
}

/** Rows are first held against each other as bytes, so many at a time: most of a page is the same to the bit. */
const STRIPE_ROWS = 16
/** So far around a pixel is looked at to tell a smoothed edge. */
const AROUND_ROWS = 2

/** One byte for each pixel: not 0 where the two differ for the eye. */
function differences(a: Uint8Array, b: Uint8Array, width: number, height: number): Uint8Array {
  const mask = new Uint8Array(width * height)
  const row = 4 * width
  const isSame = (from: number, to: number) =>
    Buffer.compare(a.subarray(from * row, to * row), b.subarray(from * row, to * row)) === 0
  for (let from = 0; from < height;) {
    let to = Math.min(height, from + STRIPE_ROWS)
    if (isSame(from, to)) {
      from = to
      continue
    }
    while (to < height && !isSame(to, Math.min(height, to + STRIPE_ROWS))) to = Math.min(height, to + STRIPE_ROWS)
    const [first, last] = [Math.max(0, from - AROUND_ROWS), Math.min(height, to + AROUND_ROWS)]
    const output = new Uint8Array((last - first) * row)
    const part = (all: Uint8Array) => all.subarray(first * row, last * row)
    pixelmatch(part(a), part(b), output, width, last - first, { diffMask: true, includeAA: false })
    for (let n = from * width; n < to * width; n++) mask[n] = output[4 * (n - first * width) + 3]!
    from = to
  }
  return mask
}

async function decoded(picture: Uint8Array): Promise<Pixels> {
  const { data, info } = await sharp(picture, { limitInputPixels: MOST_PIXELS })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true })
  return { rgba: data, width: info.width, height: info.height }
}

/** Down to a height, with white below. */
function padded({ rgba, width, height }: Pixels, to: number): Uint8Array {
  if (height === to) return rgba
  const all = new Uint8Array(4 * width * to).fill(WHITE)
  all.set(rgba)
  return all
}
