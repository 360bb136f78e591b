import { randomBytes } from 'node:crypto'
import { QueryTypes, type Sequelize } from 'sequelize'
import { rootsOf, type Span } from '@unvelt/core'

/** A trace that never ends is not kept beyond this. */
const MOST_PARTS = 60
const KEPT_DAYS = 60

/**
 * Spans as they came, a few hundred at a time.
 * @param from The site that sends them, which may tell of itself alone; null where any may be told of.
 * @returns how many were of another site's readings, and are not kept; and of which traces the others are
 */
export async function storeSpans(
  sequelize: Sequelize,
  all: readonly Span[],
  from: number | null = null,
): Promise<{ rejectedSpans: number; traceIds: string[] }> {
  const others = from === null ? new Set<string>() : await tracesOfOthers(sequelize, all, from)
  const spans = all.filter(({ traceId }) => !others.has(traceId))
  const byTrace = new Map<string, Span[]>()
  for (const span of spans) byTrace.set(span.traceId, [...(byTrace.get(span.traceId) ?? []), span])
  for (const [traceId, part] of byTrace)
    await sequelize.query(
      `insert into trace_part (trace_id, spans) select :traceId, :spans::jsonb
       where (select count(*) from trace_part where trace_id = :traceId) < ${MOST_PARTS}`,
      { replacements: { traceId, spans: JSON.stringify(part) } },
    )
  await storeRoots(sequelize, spans, from)
  return { rejectedSpans: all.length - spans.length, traceIds: [...byTrace.keys()] }
}

/** A trace that begins with the number of a site was begun by a reading of it. Those of tasks begin with anything. */
async function tracesOfOthers(sequelize: Sequelize, spans: readonly Span[], from: number): Promise<Set<string>> {
  const traces = [...new Set(spans.map(({ traceId }) => traceId))]
  const rows = await sequelize.query<{ id: number }>('select id from site where id = any($1::bigint[]) and id <> $2', {
    bind: [traces.map(siteOf), from],
    type: QueryTypes.SELECT,
  })
  const others = new Set(rows.map(({ id }) => id))
  return new Set(traces.filter((trace) => others.has(siteOf(trace))))
}

/** What is told of traces without reading them: a request's site by its trace id, a task's by the address it names. */
async function storeRoots(sequelize: Sequelize, spans: readonly Span[], from: number | null): Promise<void> {
  for (const root of rootsOf(spans))
    await sequelize.query(
      `insert into trace_root (trace_id, site_id, kind, name, addon, started_at, ms, peak_memory_bytes, failure)
       select :traceId, (select id from site where ${root.kind === 'request' ? 'id = :siteId' : from === null ? 'address = :site' : 'id = :from'}),
         :kind, :name, :addon, to_timestamp(:startedAt / 1000.0), :ms, :peakMemoryBytes, :failure
       on conflict (trace_id) do update set name = excluded.name, ms = excluded.ms, failure = excluded.failure
         where excluded.ms > trace_root.ms`,
      { replacements: { ...root, siteId: siteOf(root.traceId), from } },
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

/** In how many parts a trace has come so far. */
export async function countParts(sequelize: Sequelize, traceId: string): Promise<number> {
  const [row] = await sequelize.query<{ n: number }>(
    'select count(*)::int n from trace_part where trace_id = :traceId',
    {
      replacements: { traceId },
      type: QueryTypes.SELECT,
    },
  )
  return row!.n
}

export async function forgetOldTraces(sequelize: Sequelize): Promise<void> {
  const old = `now() - interval '${KEPT_DAYS} days'`
  // Of each request and task the slowest stays: it is the one that somebody will want to look into.
  await sequelize.query(
    `delete from trace_root where started_at < ${old} and trace_id not in (
       select distinct on (site_id, kind, name) trace_id from trace_root where site_id is not null
       order by site_id, kind, name, ms desc)`,
  )
  await sequelize.query(
    `delete from trace_part where received_at < ${old}
     and not exists (select 1 from trace_root where trace_root.trace_id = trace_part.trace_id)`,
  )
}

const SITE_DIGITS = 8

/**
 * A `traceparent` of our own (W3C Trace Context, version 00, sampled). The trace id begins with the site that is measured, and
 * keeps more random digits behind it than the standard asks for.
 */
export function newTrace(siteId: number): { traceId: string; traceparent: string } {
  const traceId = siteId.toString(16).padStart(SITE_DIGITS, '0') + randomBytes(12).toString('hex')
  return { traceId, traceparent: `00-${traceId}-${randomBytes(8).toString('hex')}-01` }
}

const siteOf = (traceId: string): number => parseInt(traceId.slice(0, SITE_DIGITS), 16)
