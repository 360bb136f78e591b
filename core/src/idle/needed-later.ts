import type { Reading } from '../reading/reading.js'
import { covered, unite, type Range } from './byte-ranges.js'

/**
 * Bytes by request that were idle during the load and were used by a step after it. Counts what of `laterUse` lies
 * outside `fileUse`; of a file that only a step brought, all that was used.
 */
export function neededLater({ fileUse, laterUse }: Pick<Reading, 'fileUse' | 'laterUse'>): Map<string, number> {
  const first = new Map(fileUse.map(({ requestId, used }) => [requestId, used]))
  return new Map(
    laterUse.map(({ requestId, used }) => {
      const before = first.get(requestId) ?? []
      return [requestId, covered(unite(before, used)) - covered(before)] as const
    }),
  )
}

/** The bytes of a file of `size` that are in none of the ranges, each list being what one page used of it. */
export const idleEverywhere = (size: number, uses: readonly (readonly Range[])[]): number =>
  Math.max(0, size - covered(uses.flat() as Range[]))

/** The same for each piece of inline code, in the reading's order. */
export const inlineNeededLater = ({ inlineCode }: Pick<Reading, 'inlineCode'>): number[] =>
  inlineCode.map(({ used = [], laterUsed }) => (laterUsed ? covered(unite(used, laterUsed)) - covered(used) : 0))
