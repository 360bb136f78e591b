import type { Range } from './byte-ranges.js'

/** Ranges in UTF-16 code units of a text in the bytes of it (UTF-8), each for itself: they may nest. */
export function inBytes(rules: readonly { from: number; to: number }[], text: string): Range[] {
  const encoder = new TextEncoder()
  const at = new Map<number, number>()
  let bytes = 0
  let before = 0
  for (const offset of [...new Set(rules.flatMap(({ from, to }) => [from, to]))].sort((a, b) => a - b)) {
    bytes += encoder.encode(text.slice(before, offset)).length
    at.set(offset, bytes)
    before = offset
  }
  return rules.map(({ from, to }): Range => [at.get(from)!, at.get(to)!])
}

/** Whether a range meets any of some that are in order and without overlap. */
export function overlaps(ranges: readonly Range[], [from, to]: Range): boolean {
  let low = 0
  let high = ranges.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (ranges[middle]![1] <= from) low = middle + 1
    else high = middle
  }
  return low < ranges.length && ranges[low]![0] < to
}

/** One-based lines of offsets that are asked for in any order. */
export function lineCounter(text: string): (offset: number) => number {
  const ends: number[] = []
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) ends.push(at)
  return (offset) => {
    let low = 0
    let high = ends.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (ends[middle]! < offset) low = middle + 1
      else high = middle
    }
    return low + 1
  }
}
