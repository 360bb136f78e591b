import type { GentlerEffect } from './gentler.js'

/** More are not tried one by one. */
export const MOST_FILES = 6

/** Two loads of one page differ by so many bytes for no reason. */
export const BYTES_BY_CHANCE = 500

/** What was tried in the place of another effect, and what loaded then until the load event. */
export interface TriedInPlace extends GentlerEffect {
  fails: boolean
  figures: { transferBytes: number }
}

/**
 * The files of an add-on to leave out next, where all of it can't be left out: those that did no harm so far and one more, the heaviest
 * first. Each is tried once, so that the set that is left can't take any one more of those that were refused beside the same others.
 * @param files Scripts and styles of the add-on on the page, as rules call them, the heaviest first.
 * @returns Null when each was tried, or where a set is left that would be the whole add-on.
 */
export function nextFiles(files: readonly string[], tries: readonly TriedInPlace[]): GentlerEffect | null {
  const few = files.slice(0, MOST_FILES)
  if (files.length < 2) return null
  const tried = tries.flatMap((one) => (one.files ? [{ files: one.files, fails: one.fails }] : []))
  const harmless = tried.findLast(({ fails }) => !fails)?.files ?? []
  const next = few[tried.length]
  if (next === undefined) return null
  const chosen = [...harmless, next]
  // All of them together is what was refused already.
  return chosen.length === files.length ? null : { effect: 'leave-out', files: chosen }
}

/** All that an add-on loads goes, so only some of its files can spare no more. */
export const goesWhole = ({ effect, files }: GentlerEffect): boolean =>
  files === undefined && (effect === 'skip' || effect === 'leave-out')

/** Of all that do no harm what spares the most bytes until the page has loaded; of what spares as much, what was tried first. */
export function sparesMost<T extends TriedInPlace>(tries: readonly T[]): T | null {
  let best: T | null = null
  for (const one of tries) {
    if (one.fails) continue
    if (!best || one.figures.transferBytes < best.figures.transferBytes - BYTES_BY_CHANCE) best = one
  }
  return best
}
