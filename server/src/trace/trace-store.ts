import { randomBytes } from 'node:crypto'
import { QueryTypes, type Sequelize } from 'sequelize'
import type { Span } from '@unvelt/core'

/** A trace that never ends is not kept beyond this. */
const MOST_PARTS = 60
const KEPT_DAYS = 60

/** Spans as they came, a few hundred at a time. */
export async function storeSpans(sequelize: Sequelize, spans: readonly Span[]): Promise<void> {
  const byTrace = new Map<string, Span[]>()
  for (const span of spans) byTrace.set(span.traceId, [...(byTrace.get(span.traceId) ?? []), span])
  for (const [traceId, part] of byTrace)
    await sequelize.query(
      `insert into trace_part (trace_id, spans) select :traceId, :spans::jsonb
       where (select count(*) from trace_part where trace_id = :traceId) < ${MOST_PARTS}`,
      { replacements: { traceId, spans: JSON.stringify(part) } },
    )
}

/** Every span of a trace that has come so far, each once. */
export async function spansOf(sequelize: Sequelize, traceId: string): Promise<Span[]> {
  const parts = await sequelize.query<{ spans: Span[] }>('select spans from trace_part where trace_id = :traceId', {
    replacements: { traceId },
    type: QueryTypes.SELECT,
  })
  return [...new Map(parts.flatMap(({ spans }) => spans).map((span) => [span.spanId, span])).values()]
}

export async function forgetOldTraces(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`delete from trace_part where received_at < now() - interval '${KEPT_DAYS} days'`)
}

/** A `traceparent` of our own (W3C Trace Context, version 00, sampled). */
export function newTrace(): { traceId: string; traceparent: string } {
  const traceId = randomBytes(16).toString('hex')
  return { traceId, traceparent: `00-${traceId}-${randomBytes(8).toString('hex')}-01` }
}
