import { median } from '../noise/median.js'
import type { ServerTimingEntry } from '../reading/reading.js'
import { serverTolls } from '../server-cost/server-tolls.js'
import { keptCopy, type Spread } from './freshness.js'

/** One request for a page without a browser. Times in ms from the request on, size in bytes. */
export interface ServerReading {
  status: number
  firstByteMs: number
  endMs: number
  bytes: number
  /** Those that tell of caches, in small letters. */
  headers: Record<string, string>
  serverTiming: ServerTimingEntry[]
}

/** Figures of answers that were made afresh, or of copies; the two are never averaged with each other. */
export interface ServerGroup {
  firstByte: Spread
  bytes: number
  /** What the site says it worked, median; null where it says nothing. */
  siteMs: number | null
  /** First byte less the site's own work: host and network. */
  hostAndNetworkMs: number | null
  /** By payer, medians. */
  payers: { payer: string; serverMs: number; queries: number; queryMs: number }[]
}

export interface ServerSummary {
  fresh: ServerGroup | null
  kept: ServerGroup | null
  /** Why the first of the copies was taken for one. */
  keptBecause: string | null
  failed: number
}

/** Sums readings up by whether the page was made for them. */
export function summariseServer(readings: readonly ServerReading[]): ServerSummary {
  const good = readings.filter(({ status }) => status >= 200 && status < 400)
  const kept = good.filter(({ headers }) => keptCopy(headers) !== null)
  const fresh = good.filter(({ headers }) => keptCopy(headers) === null)
  return {
    fresh: group(fresh),
    kept: group(kept),
    keptBecause: kept[0] ? keptCopy(kept[0].headers) : null,
    failed: readings.length - good.length,
  }
}

function group(readings: readonly ServerReading[]): ServerGroup | null {
  if (readings.length === 0) return null
  const times = readings.map(({ firstByteMs }) => firstByteMs)
  const worked = readings.map(({ serverTiming }) => serverTolls(serverTiming))
  const totals = worked.flatMap((tolls) =>
    tolls ? [[...tolls.values()].reduce((sum, { serverMs }) => sum + serverMs, 0)] : [],
  )
  const siteMs = totals.length > 0 ? median(totals) : null
  const beyond = readings.flatMap(({ firstByteMs }, n) => {
    const tolls = worked[n]
    return tolls ? [Math.max(0, firstByteMs - [...tolls.values()].reduce((sum, t) => sum + t.serverMs, 0))] : []
  })
  const payers = [...new Set(worked.flatMap((tolls) => [...(tolls?.keys() ?? [])]))]
  const of = (payer: string, measure: 'serverMs' | 'queries' | 'queryMs') =>
    median(worked.flatMap((tolls) => (tolls ? [tolls.get(payer)?.[measure] ?? 0] : [])))
  return {
    firstByte: { count: times.length, median: median(times), least: Math.min(...times), most: Math.max(...times) },
    bytes: median(readings.map(({ bytes }) => bytes)),
    siteMs,
    hostAndNetworkMs: beyond.length > 0 ? median(beyond) : null,
    payers: payers
      .map((payer) => ({
        payer,
        serverMs: of(payer, 'serverMs'),
        queries: of(payer, 'queries'),
        queryMs: of(payer, 'queryMs'),
      }))
      .sort((a, b) => b.serverMs - a.serverMs),
  }
}
