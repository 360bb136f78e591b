import { attribute } from '../attribution/attribute.js'
import type { AttributionSources } from '../attribution/sources.js'
import { outsideOf } from '../outside/outside.js'
import type { Reading } from '../reading/reading.js'
import { readingTotals } from '../reading/totals.js'
import { peakServerMemory } from '../server-cost/server-tolls.js'
import { tellsServer } from '../server-cost/timing-of-spans.js'
import { sumTolls, tolls } from '../toll/toll.js'

/** What loads of a page are compared by, in the order in which it is told: counts, bytes, milliseconds, and the layout shift without a unit. */
export const WEIGHED = [
  'requests',
  'transferBytes',
  'decodedBytes',
  'idleBytes',
  'elements',
  'outsiders',
  'errors',
  'serverMs',
  'queries',
  'peakMemoryBytes',
  'firstByteMs',
  'firstPaintMs',
  'largestPaintMs',
  'layoutShift',
  'mainThreadMs',
  'blockingMs',
  'loadMs',
] as const
export type Weighed = (typeof WEIGHED)[number]

/** What one reading tells of a variant; null for what it did not look at. */
export type WeighFigures = Record<Weighed, number | null>

/**
 * The figures of one reading by which a page is weighed. Times are told by timed readings only, and idle bytes by those that
 * looked at the use of code: a reading that does the one is slowed by the other.
 * @param reading One load of the page.
 * @param sources By which requests are charged; only its own hosts matter here.
 */
export function weighFigures(reading: Reading, sources: AttributionSources): WeighFigures {
  const attribution = attribute(reading, sources)
  const sum = sumTolls(tolls(reading, attribution))
  const { hosts } = outsideOf(reading, attribution, sources.ownHosts)
  const timed = reading.untimed !== true
  const knowsServer = tellsServer(reading.serverTiming)
  const time = (value: number | null): number | null => (timed && value !== null ? value : null)
  return {
    ...readingTotals(reading),
    idleBytes: reading.clean === true ? null : sum.idleBytes,
    elements: reading.domElements,
    outsiders: new Set(hosts.map(({ host }) => host)).size,
    errors: reading.consoleErrors.length,
    serverMs: knowsServer ? time(sum.serverMs) : null,
    queries: knowsServer ? sum.queries : null,
    peakMemoryBytes: peakServerMemory(reading.serverTiming),
    mainThreadMs: time(sum.mainThreadMs),
    blockingMs: time(reading.timings.totalBlockingTime),
    firstByteMs: time(reading.timings.ttfb),
    firstPaintMs: time(reading.timings.firstContentfulPaint),
    largestPaintMs: time(reading.timings.largestContentfulPaint),
    layoutShift: time(reading.timings.cumulativeLayoutShift),
    loadMs: time(reading.timings.load),
  }
}
