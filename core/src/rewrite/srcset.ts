/** One picture of a `srcset`, with where its address stands. */
interface Candidate {
  start: number
  end: number
  address: string
  from: number
  to: number
}

/** Takes a `srcset` apart (HTML standard, section 4.8.4.2.2). */
function candidates(value: string): Candidate[] {
  const found: Candidate[] = []
  let at = 0
  while (at < value.length) {
    const start = at
    while (at < value.length && /[\t\n\f\r ,]/.test(value[at]!)) at++
    if (at >= value.length) break
    const from = at
    while (at < value.length && !/[\t\n\f\r ]/.test(value[at]!)) at++
    let to = at
    const isEnded = value[to - 1] === ','
    while (to > from && value[to - 1] === ',') to--
    if (!isEnded) at = descriptorEnd(value, at)
    found.push({ start, end: at, address: value.slice(from, to), from, to })
  }
  return found
}

/** Behind the descriptors and their comma, which counts outside of brackets only. */
function descriptorEnd(value: string, from: number): number {
  let at = from
  for (let depth = 0; at < value.length; at++) {
    if (value[at] === '(') depth++
    else if (value[at] === ')') depth = Math.max(0, depth - 1)
    else if (value[at] === ',' && depth === 0) return at + 1
  }
  return at
}

/** The addresses of a `srcset`, in order. */
export const srcsetAddresses = (value: string): string[] => candidates(value).map(({ address }) => address)

/**
 * A `srcset` with its addresses exchanged.
 * @param change Gives what an address becomes: null leaves it as it is, and undefined takes the picture out.
 * @returns Null where no picture is left.
 */
export function withSrcset(value: string, change: (address: string) => string | null | undefined): string | null {
  let changed = false
  const kept = candidates(value).flatMap(({ start, end, address, from, to }) => {
    const become = change(address)
    if (become === null) return [value.slice(start, end)]
    changed = true
    return become === undefined ? [] : [value.slice(start, from) + become + value.slice(to, end)]
  })
  if (!changed) return value
  return kept.length === 0 ? null : kept.join('').replace(/^[\s,]+|[\s,]+$/g, '')
}
