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
 * one span that differ in their values only are one line, where the first of them stands. Spans that call each other in a
 * circle stand behind all others, and say so.
 */
export function traceLines(spans: readonly Span[]): TraceLine[] {
  const known = new Set(spans.map(({ spanId }) => spanId))
  const below = new Map<string | null, Span[]>()
  for (const span of spans) {
    const parent = span.parentId !== null && known.has(span.parentId) ? span.parentId : null
    const siblings = below.get(parent)
    if (siblings) siblings.push(span)
    else below.set(parent, [span])
  }
  const began = spans.reduce((least, { startMs }) => Math.min(least, startMs), Infinity)
  const lines: TraceLine[] = []
  const written = new Set<string>()
  const write = (siblings: readonly Span[], depth: number, mark = '') => {
    const queries = new Map<string, TraceLine>()
    for (const span of [...siblings].sort((a, b) => a.startMs - b.startMs)) {
      if (written.has(span.spanId)) continue
      written.add(span.spanId)
      const query = isQuery(span)
      const own = query
        ? normalised(String(span.attributes['db.query.text'] ?? span.name))
        : String(span.attributes['code.function.name'] ?? span.name)
      const name = own + mark
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
      if (depth < DEEPEST) write(below.get(span.spanId) ?? [], depth + 1)
    }
  }
  write(below.get(null) ?? [], 0)
  for (const span of inCircles(spans, below)) if (!written.has(span.spanId)) write([span], 0, ' (in a circle)')
  return lines
}

/** The spans that no outermost one leads to. */
function inCircles(spans: readonly Span[], below: ReadonlyMap<string | null, Span[]>): Span[] {
  const reached = new Set<string>()
  const waiting = [...(below.get(null) ?? [])]
  for (let span = waiting.pop(); span; span = waiting.pop()) {
    if (reached.has(span.spanId)) continue
    reached.add(span.spanId)
    for (const callee of below.get(span.spanId) ?? []) waiting.push(callee)
  }
  return spans.filter(({ spanId }) => !reached.has(spanId))
}
