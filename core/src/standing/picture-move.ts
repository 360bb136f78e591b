import { CONTENT } from '../attribution/evidence.js'
import type { PictureOnPage, PictureOverPages } from '../picture/pictures-over-pages.js'
import { BYTES_PER_MS, LEAST_WAITING_MS, type NextMove } from './next-moves.js'

/**
 * All pictures that are worth making lighter, as one move: each alone is little, and they are handed over together.
 * @param leastBytes Bytes in 1,000 page views under which a saving is too small to matter.
 * @returns Null where they are together too small to matter.
 */
export function pictureMove<P extends PictureOnPage>(
  pictures: readonly PictureOverPages<P>[],
  leastBytes: number,
): NextMove | null {
  const worth = pictures.filter(({ spared }) => spared > leastBytes)
  const waitingMs = worth.reduce((sum, { spared }) => sum + spared, 0) / BYTES_PER_MS
  if (waitingMs < LEAST_WAITING_MS) return null
  const each = ({ foremost: { picture } }: PictureOverPages<P>) => picture.bytes - (picture.lightest ?? picture.bytes)
  const count = worth.length
  return {
    key: 'pictures:all',
    type: 'pictures',
    addon: CONTENT,
    others: [],
    reason: `${count === 1 ? 'One picture was' : `${count} pictures were`} made anew at the size at which ${count === 1 ? 'it is' : 'they are'} drawn, and ${count === 1 ? 'looks' : 'look'} the same.`,
    certainty: 'worth a look',
    spared: {
      pages: new Set(worth.flatMap(({ pageIds }) => pageIds)).size,
      requests: 0,
      transferBytes: worth.reduce((sum, one) => sum + each(one) * one.comesOn, 0),
      serverMs: 0,
      mainThreadMs: 0,
    },
    postponed: false,
    waitingMs,
    rules: [],
  }
}
