import { createHmac } from 'node:crypto'

export const MEASURING_HEADER = 'Unvelt-Measure'
const VALID_SECONDS = 120

export interface MeasuringWish {
  /** The live ones, a version, or drafts that the site keeps, as `draft-ID`. */
  rules: 'live' | number | `draft-${string}`
  cache: 'serve' | 'bypass'
  /** In whose role a form is tried; the site takes all of it back. */
  trial?: string | undefined
  /** Whether the site marks what each add-on prints. */
  marks?: boolean
}

/**
 * The header that makes a site treat one request as a measuring one. It is signed for one path and a short time, so
 * that a redirect to somebody else's host gives nothing away: HMAC-SHA-256 of `EXPIRES\nPATH` with the connector key,
 * of a trial with `\ntrial=ROLE` behind it.
 */
export function measuringHeader(url: URL, key: string, wish: MeasuringWish, nowSeconds: number): string {
  const expires = Math.floor(nowSeconds) + VALID_SECONDS
  const trial = wish.trial === undefined ? '' : `trial=${wish.trial}`
  const signed = `${expires}\n${url.pathname}${url.search}${trial && `\n${trial}`}`
  const signature = createHmac('sha256', key).update(signed).digest('hex')
  return `expires=${expires}, signature=${signature}, rules=${wish.rules}, cache=${wish.cache}${wish.marks ? ', marks=on' : ''}${trial && `, ${trial}`}`
}
