import type { Attribution } from '../attribution/attribute.js'
import { CMS, NOT_ADDONS, REST } from '../attribution/evidence.js'
import { covered, type Range } from '../idle/byte-ranges.js'
import type { Reading } from '../reading/reading.js'
import { serverTolls } from '../server-cost/server-tolls.js'

/** Where the wait until the load event goes, in milliseconds. The parts add up to the load event. */
export interface WaitSplit {
  /** Until the first byte, less what the site says it worked. */
  hostAndNetwork: number
  /** The site's work that no add-on claims. */
  cms: number
  addOnsOnServer: number
  /** From the first byte on: as long as at least one request of an add-on is under way. */
  addOnsInBrowser: number
  /** The rest, in which only the page's own files and the browser are at work. */
  content: number
}

/**
 * Splits the wait, so that add-ons are not blamed for the host. Where the site doesn't tell of its work, all of the wait
 * for the first byte is the host's. Null where the browser gave no first byte or no load event.
 */
export function waitSplit(reading: Reading, attribution: Attribution): WaitSplit | null {
  const { ttfb, load } = reading.timings
  if (ttfb === null || load === null) return null
  const first = Math.min(ttfb, load)
  const server = serverTolls(reading.serverTiming) ?? new Map<string, { serverMs: number }>()
  let cms = 0
  let addOnsOnServer = 0
  for (const [payer, { serverMs }] of server)
    if (payer === CMS || payer === REST) cms += serverMs
    else addOnsOnServer += serverMs
  // A site that claims more than was waited for is believed in proportion.
  const scale = Math.min(1, first / (cms + addOnsOnServer || 1))
  const working = reading.requests.flatMap((request): Range[] => {
    const { payer } = attribution.requests.get(request.id)!
    if (NOT_ADDONS.includes(payer)) return []
    return [[clamp(request.startedMs, first, load), clamp(request.endedMs ?? load, first, load)]]
  })
  const addOnsInBrowser = covered(working)
  return {
    hostAndNetwork: first - (cms + addOnsOnServer) * scale,
    cms: cms * scale,
    addOnsOnServer: addOnsOnServer * scale,
    addOnsInBrowser,
    content: load - first - addOnsInBrowser,
  }
}

const clamp = (value: number, least: number, most: number) => Math.min(Math.max(value, least), most)
