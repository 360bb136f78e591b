import { createHmac } from 'node:crypto'

export const MEASURING_HEADER = 'Unvelt-Measure'
const VALID_SECONDS = 120

export interface MeasuringWish {
  rules: 'live' | number
  cache: 'serve' | 'bypass'
}

/**
 * The header that makes a site treat one request as a measuring one. It is signed for one path and a short time, so
 * that a redirect to somebody else's host gives nothing away: HMAC-SHA-256 of `EXPIRES\nPATH` with the connector key.
 */
export function measuringHeader(url: URL, key: string, wish: MeasuringWish, nowSeconds: number): string {
  const expires = Math.floor(nowSeconds) + VALID_SECONDS
  const signature = createHmac('sha256', key).update(`${expires}\n${url.pathname}${url.search}`).digest('hex')
  return `expires=${expires}, signature=${signature}, rules=${wish.rules}, cache=${wish.cache}`
}
