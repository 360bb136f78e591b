import { median } from '../noise/median.js'
import type { Reading } from '../reading/reading.js'

/** Why a page's largest picture is asked for late. */
export const LATE_BECAUSE = ['waits', 'style', 'script', 'turn'] as const
/**
 * Its own tag leaves it until it comes near; a stylesheet or a script names it, which had to come first; or its tag is in the HTML, and
 * other things were asked for before it.
 */
export type LateBecause = (typeof LATE_BECAUSE)[number]

/** The picture that is the largest paint of a page, asked for later than it could have been. ms after navigation start. */
export interface LatePaint {
  url: string
  because: LateBecause
  /** When the page's first byte came: from then on it could have been asked for. */
  couldMs: number
  askedMs: number
  paintedMs: number
}

/** Sooner by less is nothing that anybody sees; nor is a small part of the time that the paint takes. */
const LEAST_MS = 100
const LEAST_SHARE = 0.1

/**
 * Whether the largest paint of a page (Largest Contentful Paint, section 2) is a picture that is asked for late in every one of its
 * timed readings, by the one with the middle delay. Paint times are nobody's promise: how much sooner it is drawn, only a rehearsal tells.
 * @param readings Of one page under one lens.
 */
export function latePaint(readings: readonly Reading[]): LatePaint | null {
  const timed = readings.filter(({ untimed }) => !untimed)
  const late = timed.flatMap((reading) => lateIn(reading) ?? [])
  if (late.length === 0 || late.length < timed.length) return null
  if (new Set(late.map(({ url, because }) => `${because} ${url}`)).size > 1) return null
  const middle = median(late.map(delayOf))
  return late.reduce((best, one) => (Math.abs(delayOf(one) - middle) < Math.abs(delayOf(best) - middle) ? one : best))
}

const delayOf = ({ askedMs, couldMs }: LatePaint): number => askedMs - couldMs

function lateIn({ largestPaint, timings, requests }: Reading): LatePaint | null {
  const { ttfb: couldMs, largestContentfulPaint: paintedMs } = timings
  if (!largestPaint || couldMs === null || paintedMs === null) return null
  const request = requests.find(({ url, type }) => type === 'picture' && url === largestPaint.url)
  // What is told to come first already, or was at hand, can't come sooner.
  if (!request || request.fromCache || largestPaint.isFirst || request.initiator.type === 'preload') return null
  const askedMs = request.startedMs
  if (askedMs >= paintedMs || askedMs - couldMs < Math.max(LEAST_MS, LEAST_SHARE * paintedMs)) return null
  const styles = new Set(requests.filter(({ type }) => type === 'style').map(({ url }) => url))
  const { initiator } = request
  const because: LateBecause = largestPaint.lazy
    ? 'waits'
    : initiator.url !== undefined && styles.has(initiator.url)
      ? 'style'
      : initiator.type === 'script'
        ? 'script'
        : 'turn'
  return { url: request.url, because, couldMs, askedMs, paintedMs }
}
