import { CMS, REST } from '../attribution/evidence.js'
import type { ServerTimingEntry } from '../reading/reading.js'
import type { Span } from '../span/span.js'
import { serverTolls, type ServerToll } from './server-tolls.js'
import { timingOfSpans } from './timing-of-spans.js'

/** What the two witnesses of one request's work say of one payer. Milliseconds of own time, and queries. */
export interface WitnessDifference {
  payer: string
  timingMs: number
  spansMs: number
  timingQueries: number
  spansQueries: number
}

/** Clocks that are read at slightly different places differ by so much, in milliseconds, or by so much of the whole. */
const LEAST_MS = 2
const LEAST_SHARE = 0.1

/**
 * Where a page's `Server-Timing` and the spans of the same request say something else, the widest apart first. What the header
 * leaves to nobody belongs to the CMS, as it does among spans.
 * @returns Null where one of the two says nothing of the whole.
 */
export function witnessDifferences(
  entries: readonly ServerTimingEntry[],
  spans: readonly Span[],
): WitnessDifference[] | null {
  const told = timingOfSpans(spans)
  const timing = serverTolls([...entries])
  const traced = told && serverTolls(told)
  if (!timing || !traced) return null
  const [a, b] = [withRest(timing), withRest(traced)]
  const whole = Math.max(sumOf(a), sumOf(b))
  const least = Math.max(LEAST_MS, LEAST_SHARE * whole)
  return [...new Set([...a.keys(), ...b.keys()])]
    .map((payer) => ({
      payer,
      timingMs: a.get(payer)?.serverMs ?? 0,
      spansMs: b.get(payer)?.serverMs ?? 0,
      timingQueries: a.get(payer)?.queries ?? 0,
      spansQueries: b.get(payer)?.queries ?? 0,
    }))
    .filter((one) => apart(one) > least || one.timingQueries !== one.spansQueries)
    .sort((one, other) => apart(other) - apart(one))
}

const apart = ({ timingMs, spansMs }: WitnessDifference): number => Math.abs(timingMs - spansMs)

const sumOf = (tolls: ReadonlyMap<string, ServerToll>): number =>
  [...tolls.values()].reduce((sum, { serverMs }) => sum + serverMs, 0)

function withRest(tolls: ReadonlyMap<string, ServerToll>): Map<string, ServerToll> {
  const joined = new Map(tolls)
  const rest = joined.get(REST)
  if (!rest) return joined
  joined.delete(REST)
  const cms = joined.get(CMS) ?? { serverMs: 0, queries: 0, queryMs: 0 }
  return joined.set(CMS, { ...cms, serverMs: cms.serverMs + rest.serverMs })
}
