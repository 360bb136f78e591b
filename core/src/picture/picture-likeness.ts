/** Width and height of the greys that a picture's look is taken of. */
export const LOOK_WIDTH = 9
export const LOOK_HEIGHT = 8

/** How a picture looks, whatever its size, format and quality. */
export interface PictureLooks {
  /** 16 hexadecimal digits. */
  hash: string
  /** Width by height. */
  ratio: number
}

/** So many of the 64 signs may differ in a picture that was made anew; in others about half of them do. */
const MOST_APART = 6
/** What is cut to whole pixels is no longer just as wide. */
const MOST_STRETCHED = 0.04
/** Of a picture with so few changes from left to right anything may be the look. */
const LEAST_SIGNS = 8

/**
 * The look of a picture: whether each grey is brighter than the one at its right (difference hash; N. Krawetz, "Kind of like that", 2013).
 * @param greys 9 by 8 of them, 0 to 255, row by row.
 */
export function lookOf(greys: ArrayLike<number>, size: { width: number; height: number }): PictureLooks {
  let hash = 0n
  for (let y = 0; y < LOOK_HEIGHT; y++)
    for (let x = 0; x < LOOK_WIDTH - 1; x++) {
      const at = y * LOOK_WIDTH + x
      hash = (hash << 1n) | (greys[at]! > greys[at + 1]! ? 1n : 0n)
    }
  return { hash: hash.toString(16).padStart(16, '0'), ratio: size.width / Math.max(1, size.height) }
}

/** Whether two pictures are the same to look at. Never where there is too little to see. */
export function looksAlike(a: PictureLooks, b: PictureLooks): boolean {
  if (Math.abs(a.ratio / b.ratio - 1) > MOST_STRETCHED) return false
  if (signs(a.hash) < LEAST_SIGNS || signs(b.hash) < LEAST_SIGNS) return false
  return ones(BigInt(`0x${a.hash}`) ^ BigInt(`0x${b.hash}`)) <= MOST_APART
}

/** How much there is to see: signs that are not all the same. */
function signs(hash: string): number {
  const set = ones(BigInt(`0x${hash}`))
  return Math.min(set, 64 - set)
}

function ones(bits: bigint): number {
  let count = 0
  for (let rest = bits; rest > 0n; rest &= rest - 1n) count++
  return count
}
