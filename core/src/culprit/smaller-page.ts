import { narrow, type Tried } from './narrow.js'

/** A text or an element of a document; those that hold it come before it, and a part is called by its place in the list. */
export interface DocumentPart {
  /** What it lies in; null for the outermost. */
  parent: number | null
  /** Is never taken away by itself: a document has it anyway. */
  isFixed?: boolean
}

/** A document of which just these parts were there, with all that they lie in, and whether it still complained. */
export interface TriedDocument {
  kept: readonly number[]
  fails: boolean
}

export type NextDocument = { ask: number[] } | { found: number[] }

/**
 * What to try next to make a document that complains as small as it can be: level by level from the outside in, at each the fewest
 * parts without any of which it does not complain (hierarchical delta debugging: Misherghi and Su, HDD, 2006; see `narrow` for a
 * level). It is worked out from what was tried alone, so that it goes on wherever it was broken off.
 * @param parts Of the whole document, which is known to complain.
 */
export function smallerPage(parts: readonly DocumentPart[], tried: readonly TriedDocument[]): NextDocument {
  const depths = depthsOf(parts)
  let kept = parts.map((_, id) => id)
  const answers = new Map(tried.map((one) => [one.kept.join(), one.fails]))
  for (let depth = 0; depth <= Math.max(-1, ...depths); depth++) {
    const level = kept.filter((id) => depths[id] === depth && !parts[id]!.isFixed)
    if (level.length === 0) continue
    const withOnly = (chosen: ReadonlySet<number>) =>
      remaining(parts, kept, new Set(level.filter((id) => !chosen.has(id))))
    const none = withOnly(new Set())
    const isNeedless = answers.get(none.join())
    if (isNeedless === undefined) return { ask: none }
    if (isNeedless) {
      kept = none
      continue
    }
    const next = narrow(level.map(String), triedAt(level, withOnly, tried))
    if ('ask' in next) return { ask: withOnly(new Set(next.ask.map(Number))) }
    kept = withOnly(new Set(next.found.map(Number)))
  }
  return { found: kept }
}

/** The smallest of what was tried and complained; all where none did. */
export function smallestSoFar(parts: readonly DocumentPart[], tried: readonly TriedDocument[]): number[] {
  return tried.reduce<readonly number[]>(
    (least, { kept, fails }) => (fails && kept.length < least.length ? kept : least),
    parts.map((_, id) => id),
  ) as number[]
}

function triedAt(
  level: readonly number[],
  withOnly: (chosen: ReadonlySet<number>) => number[],
  tried: readonly TriedDocument[],
): Tried[] {
  return tried.flatMap(({ kept, fails }) => {
    const there = new Set(kept)
    const chosen = level.filter((id) => there.has(id))
    return withOnly(new Set(chosen)).join() === kept.join() ? [{ changes: chosen.map(String), fails }] : []
  })
}

/** What is left once some are taken away, with all that lies in them. */
function remaining(parts: readonly DocumentPart[], kept: readonly number[], taken: ReadonlySet<number>): number[] {
  const gone = new Set(taken)
  return kept.filter((id) => {
    const { parent } = parts[id]!
    if (parent !== null && gone.has(parent)) gone.add(id)
    return !gone.has(id)
  })
}

function depthsOf(parts: readonly DocumentPart[]): number[] {
  const depths: number[] = []
  for (const { parent } of parts) depths.push(parent === null ? 0 : depths[parent]! + 1)
  return depths
}
