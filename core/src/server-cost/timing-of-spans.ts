import { CMS } from '../attribution/evidence.js'
import type { ServerTimingEntry } from '../reading/reading.js'
import { peakMemory, serverSteps } from '../span/server-steps.js'
import type { Span } from '../span/span.js'

/**
 * What the spans of a page's request tell of the server, as its `Server-Timing` would have told it (connector protocol): the
 * whole, and by payer own time (the span less what it called; what works side by side shares the time), queries and their time,
 * in milliseconds.
 * @returns Null without the span that answers the request: then nobody knows how long the whole took.
 */
export function timingOfSpans(spans: readonly Span[]): ServerTimingEntry[] | null {
  const whole = spans
    .filter(({ server, attributes }) => server && 'http.request.method' in attributes)
    .reduce((longest, { startMs, endMs }) => Math.max(longest, endMs - startMs), -1)
  if (whole < 0) return null
  const payers = new Map<string, { ms: number; queries: number; queryMs: number }>()
  for (const { addon, selfMs, queries, queryMs } of serverSteps(spans)) {
    const sum = payers.get(addon) ?? { ms: 0, queries: 0, queryMs: 0 }
    payers.set(addon, { ms: sum.ms + selfMs, queries: sum.queries + queries, queryMs: sum.queryMs + queryMs })
  }
  const entries: ServerTimingEntry[] = [{ name: 'total', duration: whole, description: '' }]
  for (const [payer, { ms, queries, queryMs }] of payers) {
    const name = payer === CMS ? 'cms' : `addon.${payer}`
    entries.push({ name, duration: ms, description: '' })
    if (queries > 0) entries.push({ name: `${name}.db`, duration: queryMs, description: String(queries) })
  }
  const bytes = peakMemory(spans)
  return bytes === null ? entries : [...entries, { name: 'memory', duration: null, description: String(bytes) }]
}

/** Whether a page's own header tells of the server's work, so that no other witness is asked. */
export const tellsServer = (entries: readonly ServerTimingEntry[]): boolean =>
  entries.some(({ name, duration }) => name === 'total' && duration !== null)
