/** A span of a trace, as far as Unvelt reads it. Times are milliseconds; only their differences mean anything. */
export interface Span {
  traceId: string
  spanId: string
  parentId: string | null
  name: string
  startMs: number
  endMs: number
  attributes: Record<string, string | number | boolean>
  /** Whether it answers a request that came from outside (OTLP span kind 2). */
  server: boolean
  /** Why it failed, where it did (OTLP status code 2). */
  failure: string | null
}
