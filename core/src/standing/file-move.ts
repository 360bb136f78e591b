import { CONTENT } from '../attribution/evidence.js'
import type { WeighedFile } from '../file-look/could-weigh.js'
import type { FileOverPages } from '../file-look/files-over-pages.js'
import { BYTES_PER_MS, LEAST_WAITING_MS, type NextMove } from './next-moves.js'

/**
 * All files of the site's own that are worth packing or minifying, as one move: a server packs all at once, and what minifies takes
 * them together.
 * @param leastBytes Bytes in 1,000 page views under which a saving is too small to matter.
 * @returns Null where they are together too small to matter.
 */
export function fileMove<F extends WeighedFile & { isOwn: boolean }>(
  files: readonly FileOverPages<F>[],
  leastBytes: number,
): NextMove | null {
  const worth = files.filter(({ file, spared }) => file.isOwn && spared > leastBytes)
  const waitingMs = worth.reduce((sum, { spared }) => sum + spared, 0) / BYTES_PER_MS
  if (waitingMs < LEAST_WAITING_MS) return null
  const byPacking = worth.filter((one) => one.byPacking > 0).length
  const byMinifying = worth.filter((one) => one.byMinifying > 0).length
  const ways = [
    byPacking > 0 ? `${byPacking} of them lighter when the server packs them` : '',
    byMinifying > 0 ? `${byMinifying} when minified` : '',
  ].filter(Boolean)
  return {
    key: 'files:all',
    type: 'files',
    addon: CONTENT,
    others: [],
    reason: `${worth.length === 1 ? 'One file' : `${worth.length} files`} of the site’s own, ${ways.join(', ')}; tried by doing it.`,
    certainty: 'worth a look',
    spared: {
      pages: new Set(worth.flatMap(({ pageIds }) => pageIds)).size,
      requests: 0,
      transferBytes: worth.reduce((sum, one) => sum + (one.byPacking + one.byMinifying) * one.pageIds.length, 0),
      serverMs: 0,
      mainThreadMs: 0,
    },
    postponed: false,
    waitingMs,
    rules: [],
  }
}
