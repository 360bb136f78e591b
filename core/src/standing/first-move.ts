import { CONTENT } from '../attribution/evidence.js'
import type { LateBecause } from '../picture/late-paint.js'
import { LEAST_WAITING_MS, type NextMove } from './next-moves.js'

/** A page of which the largest picture is asked for late. */
export interface LatePage {
  path: string
  /** Whose picture it is, and how rules name its file. */
  addon: string
  file: string
  because: LateBecause
  /** Through which it was seen to be the largest; on another device another one may be. */
  device: 'desk' | 'handset'
  /** Milliseconds by which it is asked for later than it could be. */
  lateMs: number
  /** How often the page is seen in 1,000 page views. */
  inThousand: number
}

/** Each page has a picture of its own, and so a rule of its own. */
const MOST_PAGES = 200

/** All pages whose largest picture could be asked for sooner, as one move. Null where it is too small to matter. */
export function firstMove(pages: readonly LatePage[]): NextMove | null {
  const ranked = [...pages].sort((a, b) => b.lateMs * b.inThousand - a.lateMs * a.inThousand).slice(0, MOST_PAGES)
  const waitingMs = ranked.reduce((sum, { lateMs, inThousand }) => sum + lateMs * inThousand, 0)
  if (waitingMs < LEAST_WAITING_MS) return null
  const worst = ranked.reduce((a, b) => (b.lateMs > a.lateMs ? b : a))
  return {
    key: 'first:all',
    type: 'first',
    addon: CONTENT,
    others: [],
    reason: `The largest picture of ${ranked.length === 1 ? worst.path : `${ranked.length} pages`} is asked for late for no reason: on ${worst.path} ${Math.round(worst.lateMs)} ms after it could be.`,
    certainty: 'worth a look',
    spared: { pages: ranked.length, requests: 0, transferBytes: 0, serverMs: 0, mainThreadMs: 0 },
    postponed: false,
    waitingMs,
    rules: ranked.map(({ path, addon, file, because, device }) => ({
      ...{ addon, file, effect: 'hint' as const, place: { level: 'page' as const, path }, condition: { device } },
      // What no tag names has to be announced.
      ...(isUnnamed(because) && { ahead: true as const }),
    })),
  }
}

/** Whether the page's HTML does not name the picture, so that a link must announce it. */
export const isUnnamed = (because: LateBecause): boolean => because === 'style' || because === 'script'
