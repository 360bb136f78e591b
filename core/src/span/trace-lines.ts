import { addonOf, isQuery, normalised } from './server-steps.js'
import type { Span } from './span.js'

/** A span where it stands: below which it lies, and when, in milliseconds from the beginning of the trace. */
export interface TraceLine {
  id: string
  depth: number
  addon: string
  name: string
  query: boolean
  fromMs: number
  /** When the last ended of those that were put together. */
  untilMs: number
  /** Of all that were put together. */
  ms: number
  times: number
}

/** A trace is hostile too: its parents may form a circle, or a chain without end. */
const DEEPEST = 64

/**
 * A trace as lines to read from top to bottom: each span above those that it called, those by their beginning. Queries below
 * one span that differ in their values only are one line, where the first of them stands.
 */
export function traceLines(spans: readonly Span[]): TraceLine[] {
  const known = new Set(spans.map(({ spanId }) => spanId))
  const below = new Map<string | null, Span[]>()
  for (const span of spans) {
    const parent = span.parentId !== null && known.has(span.parentId) ? span.parentId : null
    below.set(parent, [...(below.get(parent) ?? []), span])
  }
  const began = spans.reduce((least, { startMs }) => Math.min(least, startMs), Infinity)
  const lines: TraceLine[] = []
  const written = new Set<string>()
  const write = (parent: string | null, depth: number) => {
    const queries = new Map<string, TraceLine>()
    for (const span of [...(below.get(parent) ?? [])].sort((a, b) => a.startMs - b.startMs)) {
      if (written.has(span.spanId)) continue
      written.add(span.spanId)
      const query = isQuery(span)
      const name = query
        ? normalised(String(span.attributes['db.query.text'] ?? span.name))
        : String(span.attributes['code.function.name'] ?? span.name)
      const ms = span.endMs - span.startMs
      const [fromMs, untilMs] = [span.startMs - began, span.endMs - began]
      const alike = query ? queries.get(`${addonOf(span)}\n${name}`) : undefined
      if (alike) {
        alike.ms += ms
        alike.times += 1
        alike.untilMs = Math.max(alike.untilMs, untilMs)
        continue
      }
      const line = { id: span.spanId, depth, addon: addonOf(span), name, query, fromMs, untilMs, ms, times: 1 }
      if (query) queries.set(`${addonOf(span)}\n${name}`, line)
      lines.push(line)
      if (depth < DEEPEST) write(span.spanId, depth + 1)
    }
  }
  write(null, 0)
  return lines
}
