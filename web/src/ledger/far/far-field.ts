import { valueAt, type Column, type Line } from '../lines.js'
import type { Weighed } from '../weighing.js'
import type { Band } from './far-window.js'

/** What the far view shows of each cell: how dark it is, 0 to 1; nothing of what is not there. */
export interface FarField {
  rows: number
  columns: number
  /** Row by row. */
  strength: Float32Array
}

/** By square root, as in the close view, so that small tolls can still be told apart. */
export function farField(weighed: Weighed, lines: readonly Line[], columns: readonly Column[]): FarField {
  const strength = new Float32Array(lines.length * columns.length)
  const { most } = weighed
  if (most > 0)
    lines.forEach((line, row) =>
      columns.forEach((column, at) => {
        const value = valueAt(weighed, line, column)
        if (value > 0) strength[row * columns.length + at] = Math.sqrt(Math.min(1, value / most))
      }),
    )
  return { rows: lines.length, columns: columns.length, strength }
}

/** The strongest of the cells that share a piece of the picture: what is averaged away could not be found. */
export function strongest({ strength, columns }: FarField, down: Band, across: Band): number {
  let most = 0
  for (let row = down.first; row <= down.last; row++)
    for (let column = across.first; column <= across.last; column++) {
      const one = strength[row * columns + column]!
      if (one > most) most = one
    }
  return most
}

/**
 * The picture, one number a pixel (as `ImageData` has them, little-endian: alpha, blue, green, red).
 * @param shades Colours from the weakest to the strongest; `paper` where there is nothing.
 */
export function paintFar(
  field: FarField,
  { width, height }: { width: number; height: number },
  [down, across]: [Band[], Band[]],
  shades: readonly number[],
  paper: number,
): Uint32Array {
  const pixels = new Uint32Array(width * height).fill(paper)
  for (const row of down)
    for (const column of across) {
      const most = strongest(field, row, column)
      if (most === 0) continue
      const colour = shades[Math.round(most * (shades.length - 1))]!
      for (let y = row.from; y < row.to; y++) pixels.fill(colour, y * width + column.from, y * width + column.to)
    }
  return pixels
}

/** A colour as `#rrggbb` in the order of bytes of `ImageData`. */
export function pixelOf(hex: string): number {
  const [red, green, blue] = [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16))
  return ((255 << 24) | (blue! << 16) | (green! << 8) | red!) >>> 0
}
