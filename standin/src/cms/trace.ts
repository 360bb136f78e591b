import { getHeapStatistics } from 'node:v8'
import { context as noContext, SpanKind, trace as api, type Context, type Tracer } from '@opentelemetry/api'

interface Step {
  payer: string
  startedAt: number
  /** Time of steps inside this one; not its own. */
  insideMs: number
  span: Context
}

interface Spent {
  selfMs: number
  queries: number
  queryMs: number
}

/** A span tree that is written beside the sums, for requests that are measured. */
export interface Spans {
  tracer: Tracer
  /** The span of the whole request, tied to the measuring request. */
  root: Context
}

/** Where the time goes while one page is made. Steps nest; each is charged with its self time. All milliseconds. */
export class Trace {
  private readonly began = performance.now()
  private readonly open: Step[] = []
  private readonly spent = new Map<string, Spent>()
  /** The most heap seen at the end of a step, in bytes. */
  peakHeapBytes = 0

  constructor(private readonly spans: Spans | null = null) {}

  /** Runs a piece of somebody's code and charges that payer with the time it took itself. */
  async step<T>(payer: string, run: () => Promise<T>, what = 'page'): Promise<T> {
    const within = this.open.at(-1)?.span ?? this.spans?.root ?? noContext.active()
    const span = this.spans?.tracer.startSpan(`${payer} ${what}`, { attributes: attributesOf(payer, what) }, within)
    const step: Step = {
      payer,
      startedAt: performance.now(),
      insideMs: 0,
      span: span ? api.setSpan(within, span) : within,
    }
    this.open.push(step)
    try {
      return await run()
    } finally {
      this.open.pop()
      const took = performance.now() - step.startedAt
      this.of(payer).selfMs += took - step.insideMs
      const outer = this.open.at(-1)
      if (outer) outer.insideMs += took
      this.peakHeapBytes = Math.max(this.peakHeapBytes, getHeapStatistics().used_heap_size)
      span?.end()
    }
  }

  /** Runs one query and counts it for the step that asked. */
  async query<T extends { rowCount: number | null }>(text: string, run: () => Promise<T>): Promise<T> {
    const asking = this.open.at(-1)
    const startedAt = performance.now()
    const span = this.spans?.tracer.startSpan(
      operationOf(text),
      { kind: SpanKind.CLIENT, attributes: queryAttributes(asking?.payer ?? 'cms', text) },
      asking?.span ?? this.spans.root,
    )
    try {
      const result = await run()
      span?.setAttribute('db.response.returned_rows', result.rowCount ?? 0)
      return result
    } finally {
      const spent = this.of(asking?.payer ?? 'cms')
      spent.queries += 1
      spent.queryMs += performance.now() - startedAt
      span?.end()
    }
  }

  /** The `Server-Timing` header of the connector protocol. */
  serverTiming(): string {
    const parts = [`total;dur=${(performance.now() - this.began).toFixed(3)}`]
    for (const [payer, { selfMs, queries, queryMs }] of this.spent) {
      const name = payer === 'cms' ? 'cms' : `addon.${payer}`
      parts.push(`${name};dur=${selfMs.toFixed(3)}`)
      if (queries > 0) parts.push(`${name}.db;dur=${queryMs.toFixed(3)};desc="${queries}"`)
    }
    if (this.peakHeapBytes > 0) parts.push(`memory;desc="${this.peakHeapBytes}"`)
    return parts.join(', ')
  }

  private of(payer: string): Spent {
    const spent = this.spent.get(payer) ?? { selfMs: 0, queries: 0, queryMs: 0 }
    this.spent.set(payer, spent)
    return spent
  }
}

const attributesOf = (payer: string, what: string) => ({
  ...(payer !== 'cms' && { 'unvelt.addon': payer }),
  'code.function.name': what,
})

/** Semantic conventions for database clients, stable names. */
const queryAttributes = (payer: string, text: string) => ({
  ...(payer !== 'cms' && { 'unvelt.addon': payer }),
  'db.system.name': 'postgresql',
  'db.operation.name': operationOf(text),
  'db.query.text': text.replace(/\s+/g, ' ').slice(0, 2_000),
})

const operationOf = (text: string) => (/[a-z]+/i.exec(text)?.[0] ?? 'query').toUpperCase()
