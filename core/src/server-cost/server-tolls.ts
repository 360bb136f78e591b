import { CMS, REST } from '../attribution/evidence.js'
import type { ServerTimingEntry } from '../reading/reading.js'

/** What one payer did on the server while it made the page. Self times, so payers add up to the page. */
export interface ServerToll {
  serverMs: number
  queries: number
  queryMs: number
}

/**
 * Server figures by payer out of `Server-Timing`. The connector protocol names the metrics: `total` for the page,
 * `cms`, and `addon.SLUG` for each add-on's self time; `.db` behind a name gives its query time, with the number of
 * queries as description. What the total holds beyond them is charged to *rest*.
 * Where payers claim more than the total, their times are believed in proportion.
 * Returns null when the site sent no total: then nothing is known of the server.
 */
export function serverTolls(entries: ServerTimingEntry[]): Map<string, ServerToll> | null {
  const total = entries.find((entry) => entry.name === 'total')?.duration
  if (total == null) return null
  const tolls = new Map<string, ServerToll>()
  let claimed = 0
  for (const entry of entries) {
    const [, name, database] = /^(cms|addon\.[^.]+)(\.db)?$/.exec(entry.name) ?? []
    if (!name) continue
    const payer = name === 'cms' ? CMS : name.slice('addon.'.length)
    const toll = tolls.get(payer) ?? { serverMs: 0, queries: 0, queryMs: 0 }
    if (database) {
      toll.queryMs += entry.duration ?? 0
      toll.queries += /^\d{1,9}$/.test(entry.description) ? Number(entry.description) : 0
    } else {
      toll.serverMs += entry.duration ?? 0
      claimed += entry.duration ?? 0
    }
    tolls.set(payer, toll)
  }
  if (claimed > total) for (const toll of tolls.values()) toll.serverMs *= total / claimed
  if (total > claimed) tolls.set(REST, { serverMs: total - claimed, queries: 0, queryMs: 0 })
  return tolls
}

/** The most memory that the server says was in use while it made the page, in bytes; null where it says none. */
export function peakServerMemory(entries: readonly ServerTimingEntry[]): number | null {
  const said = entries.find(({ name }) => name === 'memory')?.description ?? ''
  return /^\d{1,15}$/.test(said) ? Number(said) : null
}
