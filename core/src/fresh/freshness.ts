/**
 * Why an answer is a copy that some cache had kept, as the end of a sentence; null where nothing says so. By `Age` (RFC
 * 9111, section 5.1), `Cache-Status` (RFC 9211), and the words that caches commonly leave. Names in small letters.
 */
export function keptCopy(headers: Readonly<Record<string, string>>): string | null {
  const age = headers.age?.trim() ?? ''
  if (/^\d+$/.test(age) && Number(age) > 0) return `a cache had kept it for ${Number(age)} s`
  const status = headers['cache-status'] ?? ''
  const [, cache] = /(?:^|,)\s*"?([^";,]+)"?\s*;[^,]*\bhit\b/i.exec(status) ?? []
  if (cache !== undefined) return `the cache ${cache.trim().slice(0, 60)} had it`
  for (const name of ['x-page-cache', 'x-cache'])
    if (/^\s*(hit|stale|kept)\b/i.test(headers[name] ?? '')) return `the page cache had it (${name})`
  return null
}

/** A median with its spread. All in the unit of the values. */
export interface Spread {
  count: number
  median: number
  least: number
  most: number
}
