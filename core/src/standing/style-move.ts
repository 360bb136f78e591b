import { CONTENT } from '../attribution/evidence.js'
import { BYTES_PER_MS, LEAST_WAITING_MS, type NextMove } from './next-moves.js'

/** A stylesheet of the site's own that was made anew without what is used nowhere. */
export interface CleanedStyleFile {
  /** Wire bytes that the file is lighter. */
  less: number
  /** Wire bytes that are spared in 1,000 page views. */
  spared: number
  pageIds: readonly number[]
  /** Rules that go. */
  rules: number
}

/**
 * All stylesheets of the site's own of which enough is used nowhere, as one move: they are handed over together.
 * @param leastBytes Bytes in 1,000 page views under which a saving is too small to matter.
 * @returns Null where they are together too small to matter.
 */
export function styleMove(files: readonly CleanedStyleFile[], leastBytes: number): NextMove | null {
  const worth = files.filter(({ spared }) => spared > leastBytes)
  const waitingMs = worth.reduce((sum, { spared }) => sum + spared, 0) / BYTES_PER_MS
  if (waitingMs < LEAST_WAITING_MS) return null
  const rules = worth.reduce((sum, file) => sum + file.rules, 0)
  return {
    key: 'nowhere:all',
    type: 'nowhere',
    addon: CONTENT,
    others: [],
    reason: `${rules === 1 ? 'One rule' : `${rules} rules`} in ${worth.length === 1 ? 'a stylesheet' : `${worth.length} stylesheets`} of the site’s own that no page and no step has used, and for which nothing speaks.`,
    certainty: 'worth a look',
    spared: {
      pages: new Set(worth.flatMap(({ pageIds }) => pageIds)).size,
      requests: 0,
      transferBytes: worth.reduce((sum, { less, pageIds }) => sum + less * pageIds.length, 0),
      serverMs: 0,
      mainThreadMs: 0,
    },
    postponed: false,
    waitingMs,
    rules: [],
  }
}
