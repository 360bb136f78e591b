import { createHmac, timingSafeEqual } from 'node:crypto'

/** What a measuring request asks of the site. Visitors send no such header and see none of it. */
export interface MeasuringRequest {
  /** The rules to make the page under: the live ones, or an older version; version 0 has none. */
  rules: 'live' | number
  cache: 'serve' | 'bypass'
}

/** A signature good for longer than this is not accepted, however well it is made. */
const LONGEST_VALID_SECONDS = 600

/**
 * Reads the `Unvelt-Measure` header: `expires=UNIX, signature=HEX, rules=live|VERSION, cache=serve|bypass`. The signature
 * is HMAC-SHA-256 of `EXPIRES\nPATH` with the connector key. Null when it is missing, wrong or over.
 */
export function readMeasuring(
  header: string | string[] | undefined,
  path: string,
  key: string,
  nowSeconds: number,
): MeasuringRequest | null {
  if (typeof header !== 'string') return null
  const parts = new Map(header.split(',').map((part) => part.trim().split('=', 2) as [string, string]))
  const expires = Number(parts.get('expires'))
  if (!(expires >= nowSeconds && expires <= nowSeconds + LONGEST_VALID_SECONDS)) return null
  const expected = createHmac('sha256', key).update(`${expires}\n${path}`).digest('hex')
  if (!sameKey(parts.get('signature') ?? '', expected)) return null
  const rules = parts.get('rules') ?? 'live'
  return {
    rules: /^\d{1,9}$/.test(rules) ? Number(rules) : 'live',
    cache: parts.get('cache') === 'bypass' ? 'bypass' : 'serve',
  }
}

export function sameKey(given: string, key: string): boolean {
  const a = Buffer.from(given)
  const b = Buffer.from(key)
  return a.length === b.length && timingSafeEqual(a, b)
}
