import pixelmatch from 'pixelmatch'
import sharp from 'sharp'
import { pictureBlocks, pictureChange, type PictureBlocks, type PictureChange } from '@unvelt/core'

/** Pictures as they were stored: some of the page without rules, and one with them. */
export interface ToCompare {
  without: Uint8Array[]
  withRules: Uint8Array
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
 * them. Null where they are not of one width.
 */
export default async function compare({ without, withRules }: ToCompare): Promise<PictureChange | null> {
  const [first, ...others] = await Promise.all(without.map(decoded))
  const now = await decoded(withRules)
  if (!first || [now, ...others].some(({ width }) => width !== first.width)) return null
  const height = Math.max(...[first, now, ...others].map((picture) => picture.height))
  const base = padded(first, height)
  const against = (other: Pixels): PictureBlocks => {
    const output = new Uint8Array(base.length)
    pixelmatch(base, padded(other, height), output, first.width, height, { diffMask: true, includeAA: false })
    const mask = new Uint8Array(first.width * height)
    for (let n = 0; n < mask.length; n++) mask[n] = output[4 * n + 3]!
    return pictureBlocks(mask, first.width, height)
  }
  return pictureChange(against(now), others.map(against))
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
