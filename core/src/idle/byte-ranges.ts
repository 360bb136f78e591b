/** Half-open range `[from, to)` in a file. */
export type Range = [from: number, to: number]

/** Ranges in order, without overlap and without empty ones. */
export function unite(...lists: readonly Range[][]): Range[] {
  const sorted = lists
    .flat()
    .filter(([from, to]) => to > from)
    .sort((a, b) => a[0] - b[0])
  const united: Range[] = []
  for (const [from, to] of sorted) {
    const last = united.at(-1)
    if (last && from <= last[1]) last[1] = Math.max(last[1], to)
    else united.push([from, to])
  }
  return united
}

/** How much a list of ranges covers; overlaps count once. */
export function covered(ranges: readonly Range[]): number {
  let sum = 0
  let end = -Infinity
  for (const [from, to] of ranges) {
    // Readings keep them in order; whatever else comes is put in order first.
    if (from < end || to < from) return sizeOf(unite([...ranges]))
    sum += to - from
    end = to
  }
  return sum
}

const sizeOf = (ranges: readonly Range[]) => ranges.reduce((sum, [from, to]) => sum + to - from, 0)

/**
 * Takes ranges in UTF-16 code units of a text, as browsers report them, to ranges in its UTF-8 bytes. Offsets beyond the
 * text are cut; half a surrogate pair counts from its beginning.
 */
export function toBytes(ranges: readonly Range[], text: string): Range[] {
  const wanted = unite([...ranges])
  if (isAscii(text)) return clip(wanted, text.length)
  const at = new Map<number, number>()
  const offsets = [...new Set(wanted.flat())].sort((a, b) => a - b)
  let bytes = 0
  let next = 0
  for (let i = 0; i <= text.length && next < offsets.length;) {
    while (next < offsets.length && offsets[next]! <= i) at.set(offsets[next++]!, bytes)
    const point = text.codePointAt(i)
    if (point === undefined) break
    bytes += point < 0x80 ? 1 : point < 0x800 ? 2 : point < 0x10000 ? 3 : 4
    i += point > 0xffff ? 2 : 1
  }
  for (; next < offsets.length; next++) at.set(offsets[next]!, bytes)
  return unite(wanted.map(([from, to]) => [at.get(from)!, at.get(to)!]))
}

const isAscii = (text: string) => !/[^\0-\x7f]/.test(text)

const clip = (ranges: readonly Range[], size: number): Range[] =>
  unite(ranges.map(([from, to]) => [Math.min(from, size), Math.min(to, size)]))
