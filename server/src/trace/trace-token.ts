import { createHmac, timingSafeEqual } from 'node:crypto'
import { LARGEST_NUMBER } from '../problem/id.pipe.js'

/** What a site shows to send its spans. It names the site, and is good for that one alone. Made of the instance's secret. */
export const traceToken = (secret: Buffer, siteId: number): string =>
  `${siteId}.${createHmac('sha256', secret).update(`traces of ${siteId}`).digest('hex')}`

/** @returns the site that a token is of; null where it is none of ours */
export function siteOfToken(secret: Buffer, token: string): number | null {
  const siteId = Number(/^(\d{1,10})\./.exec(token)?.[1])
  return siteId > 0 && siteId <= LARGEST_NUMBER && isSame(token, traceToken(secret, siteId)) ? siteId : null
}

/** In the same time, wherever they differ. */
export function isSame(given: string, expected: string): boolean {
  const [a, b] = [Buffer.from(given), Buffer.from(expected)]
  return a.length === b.length && timingSafeEqual(a, b)
}
