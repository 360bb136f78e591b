import { createHmac, timingSafeEqual } from 'node:crypto'

/** What a measuring request asks of the site. Visitors send no such header and see none of it. */
export interface MeasuringRequest {
  /** The rules to make the page under: the live ones, an older version (version 0 has none), or drafts by their id. */
  rules: 'live' | number | { draft: string }
  cache: 'serve' | 'bypass'
  /** In whose role a form is tried: carried out, and all of it taken back. Null when it is meant. */
  trial: string | null
  /** Whether what each add-on prints is marked. */
  marks: boolean
}

const DRAFT = 'draft-'
/** A signature good for longer than this is not accepted, however well it is made. */
const LONGEST_VALID_SECONDS = 600

/**
 * Reads the `Unvelt-Measure` header: `expires=UNIX, signature=HEX, rules=live|VERSION|draft-ID, cache=serve|bypass[,
 * marks=on][, trial=ROLE]`. The signature is HMAC-SHA-256 of `EXPIRES\nPATH` with the connector key, and of a trial also of
 * `\ntrial=ROLE`, so that neither can be made of the other. Null when it is missing, wrong or over.
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
  const trial = parts.get('trial') ?? null
  const signed = `${expires}\n${path}${trial === null ? '' : `\ntrial=${trial}`}`
  const expected = createHmac('sha256', key).update(signed).digest('hex')
  if (!sameKey(parts.get('signature') ?? '', expected)) return null
  const rules = parts.get('rules') ?? 'live'
  return {
    rules: /^\d{1,9}$/.test(rules)
      ? Number(rules)
      : rules.startsWith(DRAFT)
        ? { draft: rules.slice(DRAFT.length) }
        : 'live',
    cache: parts.get('cache') === 'bypass' ? 'bypass' : 'serve',
    trial,
    marks: parts.get('marks') === 'on',
  }
}

export function sameKey(given: string, key: string): boolean {
  const a = Buffer.from(given)
  const b = Buffer.from(key)
  return a.length === b.length && timingSafeEqual(a, b)
}
