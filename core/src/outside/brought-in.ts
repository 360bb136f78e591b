import type { Attribution } from '../attribution/attribute.js'
import type { Reading } from '../reading/reading.js'
import { wentOut } from '../reading/totals.js'
import { whoAsked, type Asker } from './who-asked.js'

/** Who brings a payer's files into a page. */
export interface BringsIn {
  /** The payer whose file asked; null for the page: its own tags, or code that stands in it. */
  by: string | null
  how: Asker['how']
  /** One of the files that came by it. */
  url: string
}

/**
 * Who asked for what is charged to each of some payers, where it was not they themselves. Redirects are what the one before asked for.
 * @param payers Those that are asked about; others are left out.
 * @returns By payer, each way in once, in the order in which the requests began.
 */
export function whoBringsIn(
  reading: Reading,
  attribution: Attribution,
  payers: ReadonlySet<string>,
): Map<string, BringsIn[]> {
  const byId = new Map(reading.requests.map((request) => [request.id, request]))
  const byUrl = new Map(reading.requests.map((request) => [request.url, request]))
  const found = new Map<string, BringsIn[]>()
  for (const request of reading.requests) {
    const { payer } = attribution.requests.get(request.id)!
    if (!payers.has(payer) || !wentOut(request)) continue
    const { url, how } = whoAsked(request, byId, byUrl)
    const asking = url === null ? undefined : byUrl.get(url)
    const by = asking && asking.type !== 'document' ? attribution.requests.get(asking.id)!.payer : null
    if (by === payer) continue
    const ways = found.get(payer) ?? []
    if (!ways.some((way) => way.by === by && way.how === how)) ways.push({ by, how, url: request.url })
    found.set(payer, ways)
  }
  return found
}
