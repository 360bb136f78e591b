import type { Site } from '@unvelt/contract'

/** Whether one of two sites is a copy of the other, or both are of the same. */
export const areCopies = (one: Site, other: Site): boolean =>
  one.id !== other.id && (one.copyOf ?? one.id) === (other.copyOf ?? other.id)

/** A rule file of one site as it reads for a copy of it: what names the one's own host names the other's. */
export function carriedOver(file: object, from: string, to: string): object {
  const [there, here] = [new URL(from), new URL(to)]
  const origin = new RegExp(`${escaped(there.origin)}(?![\\w.:-])`, 'g')
  const host = new RegExp(`(?<![\\w.-])${escaped(there.host)}(?![\\w.:-])`, 'g')
  const rename = (value: unknown): unknown => {
    if (typeof value === 'string') return value.replace(origin, here.origin).replace(host, here.host)
    if (Array.isArray(value)) return value.map(rename)
    if (value === null || typeof value !== 'object') return value
    return Object.fromEntries(
      Object.entries(value).map(([name, each]) => [name, NOT_TRANSLATED.has(name) ? each : rename(each)]),
    )
  }
  return rename(file) as object
}

/** What somebody has written stays as it is. */
const NOT_TRANSLATED = new Set(['note', 'why', 'reason'])

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
