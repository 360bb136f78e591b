/** One call of the protocol, as its handler sees it. */
export interface Call {
  address: URL
  headers: Record<string, string | string[] | undefined>
  /** The parsed body; an empty object where there was none. */
  body: unknown
  /** What the pattern's `*` stood for. */
  name: string
}

export interface Reply {
  json?: unknown
  /** Plain text instead, piece by piece. */
  text?: Iterable<string>
  status?: number
  headers?: Record<string, string>
}

export type Calls = Record<string, (call: Call) => Promise<Reply> | Reply>

/** Reads a record out of a body. @throws nothing; what is no record is an empty one. */
export function recordOf(value: unknown): Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Record<string, unknown>) : {}
}
