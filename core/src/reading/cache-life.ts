import type { RequestRecord } from './reading.js'

export interface CacheLife {
  /** Seconds that a browser may use the file again without asking; 0 where it must ask each time. */
  seconds: number
  /** Where the time comes from; `guess` is a tenth of the file's age (RFC 9111, section 4.2.2), as browsers do it. */
  by: 'max-age' | 'expires' | 'guess' | 'no-store' | 'no-cache' | 'nothing said'
}

/** How long a browser may keep a file, by its own headers (RFC 9111, sections 4.2 and 5.2). Null where no answer came. */
export function cacheLife({ status, responseHeaders: h }: RequestRecord): CacheLife | null {
  if (status === null) return null
  const said = directives(h['cache-control'] ?? '')
  if (said.has('no-store')) return { seconds: 0, by: 'no-store' }
  if (said.has('no-cache')) return { seconds: 0, by: 'no-cache' }
  const maxAge = said.get('max-age')
  if (maxAge !== undefined && /^\d+$/.test(maxAge))
    return { seconds: Math.max(0, Number(maxAge) - ageOf(h.age)), by: 'max-age' }
  const answered = Date.parse(h.date ?? '')
  if (h.expires !== undefined) {
    // A date that can't be read means the past (section 5.3).
    const until = Date.parse(h.expires)
    const seconds = Number.isNaN(until) || Number.isNaN(answered) ? 0 : Math.max(0, (until - answered) / 1000)
    return { seconds, by: 'expires' }
  }
  const changed = Date.parse(h['last-modified'] ?? '')
  if (Number.isNaN(changed) || Number.isNaN(answered)) return { seconds: 0, by: 'nothing said' }
  return { seconds: Math.max(0, (answered - changed) / 10_000), by: 'guess' }
}

const ageOf = (age: string | undefined) => (age !== undefined && /^\d+$/.test(age) ? Number(age) : 0)

function directives(header: string): Map<string, string> {
  return new Map(
    header.split(',').flatMap((part) => {
      const [name, value = ''] = part.trim().split('=', 2)
      return name ? [[name.toLowerCase(), value.replace(/^"|"$/g, '')] as const] : []
    }),
  )
}

/** Whether a body of a type worth compressing came without any compression, and how it was compressed if it was. */
export function compression({ responseHeaders: h, type }: RequestRecord): string | null {
  const encoding = h['content-encoding']?.trim().toLowerCase()
  if (encoding) return encoding
  return ['document', 'script', 'style', 'frame', 'fetch'].includes(type) ? 'none' : null
}
