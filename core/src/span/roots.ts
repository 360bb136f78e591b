import type { Span } from './span.js'

/** What a trace is of: the answer to one request, or work that nobody asked for. */
export interface SpanRoot {
  traceId: string
  kind: 'request' | 'task'
  /** `POST /forms/comment`, or the task's own name. */
  name: string
  /** Whose task it is; null of a request. */
  addon: string | null
  /** The address of the site, as a task names it; a request is known by its trace id. */
  site: string | null
  /** When it began, in milliseconds since 1970. */
  startedAt: number
  ms: number
  peakMemoryBytes: number | null
  failure: string | null
}

/**
 * The roots among some spans, in the order they came. Of a request it is the server span that carries
 * `http.request.method` (OpenTelemetry semantic conventions for HTTP); of a task the span without parent that carries `unvelt.task`.
 */
export function rootsOf(spans: readonly Span[]): SpanRoot[] {
  return spans.flatMap((span): SpanRoot[] => {
    const { traceId, parentId, startMs, endMs, attributes, server, failure } = span
    const text = (key: string) => (typeof attributes[key] === 'string' ? attributes[key] : null)
    const method = text('http.request.method')
    const task = parentId === null ? text('unvelt.task') : null
    if (task === null && !(server && method !== null)) return []
    const bytes = attributes['unvelt.memory.peak_bytes']
    const status = attributes['http.response.status_code']
    return [
      {
        traceId,
        kind: task === null ? 'request' : 'task',
        name: task ?? `${method} ${text('url.path') ?? span.name}`,
        addon: task === null ? null : text('unvelt.addon'),
        site: text('unvelt.site'),
        startedAt: startMs,
        ms: endMs - startMs,
        peakMemoryBytes: typeof bytes === 'number' ? bytes : null,
        failure: failure ?? (typeof status === 'number' && status >= 500 ? `status ${status}` : null),
      },
    ]
  })
}
