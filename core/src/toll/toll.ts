import type { Attribution } from '../attribution/attribute.js'
import { CONTENT } from '../attribution/evidence.js'
import type { Reading } from '../reading/reading.js'
import { splitRequest } from '../glue/split-request.js'
import { idleByRequest, inlineIdle } from '../idle/idle-bytes.js'
import { wentOut } from '../reading/totals.js'
import { serverTolls } from '../server-cost/server-tolls.js'

/** The measures of a toll, in the order they are shown. Requests and queries are counts; the rest bytes or ms. */
export const MEASURES = [
  'requests',
  'transferBytes',
  'decodedBytes',
  'idleBytes',
  'mainThreadMs',
  'serverMs',
  'queries',
  'queryMs',
] as const
export type Measure = (typeof MEASURES)[number]

/** What one payer costs on one page under one lens. */
export type Toll = { payer: string } & Record<Measure, number>

export const noToll = (payer: string): Toll => ({
  payer,
  requests: 0,
  transferBytes: 0,
  decodedBytes: 0,
  idleBytes: 0,
  mainThreadMs: 0,
  serverMs: 0,
  queries: 0,
  queryMs: 0,
})

/**
 * The toll of every payer of a reading. Over all payers each measure adds up to the page's own total exactly: inline
 * code that has a payer is moved from the document's decoded bytes to that payer, never counted twice.
 */
export function tolls(reading: Reading, attribution: Attribution): Toll[] {
  const byPayer = new Map<string, Toll>()
  const of = (payer: string) => {
    const toll = byPayer.get(payer) ?? noToll(payer)
    byPayer.set(payer, toll)
    return toll
  }
  const idle = idleByRequest(reading)
  const useOf = new Map(reading.fileUse.map((use) => [use.requestId, use]))
  for (const request of reading.requests) {
    const toll = of(attribution.requests.get(request.id)!.payer)
    toll.requests += wentOut(request) ? 1 : 0
    const shares = attribution.shares.get(request.id)
    if (shares && shares.length > 0) {
      for (const { payer, ...bytes } of splitRequest(request, shares, useOf.get(request.id))) {
        const part = of(payer)
        part.transferBytes += bytes.transferBytes
        part.decodedBytes += bytes.decodedBytes
        part.idleBytes += bytes.idleBytes
      }
      continue
    }
    toll.transferBytes += request.transferBytes
    toll.decodedBytes += request.decodedBytes
    toll.idleBytes += idle.get(request.id) ?? 0
  }
  reading.mainThread.forEach(({ ms }, index) => (of(attribution.mainThread[index]!.payer).mainThreadMs += ms))
  const page = reading.requests.filter((r) => r.type === 'document').at(-1)
  let documentLeft = page?.decodedBytes ?? 0
  const idleInline = inlineIdle(reading)
  reading.inlineCode.forEach((code, index) => {
    if (!page) return
    const bytes = Math.min(code.bytes, documentLeft)
    documentLeft -= bytes
    const documentPayer = attribution.requests.get(page.id)?.payer ?? CONTENT
    const payer = attribution.inlineCode[index]?.payer ?? documentPayer
    of(payer).decodedBytes += bytes
    of(documentPayer).decodedBytes -= bytes
    of(payer).idleBytes += idleInline[index]!
  })
  for (const [payer, server] of serverTolls(reading.serverTiming) ?? []) Object.assign(of(payer), server)
  return [...byPayer.values()]
}

/** The sum of tolls, measure by measure. */
export function sumTolls(list: Toll[], payer = 'page'): Toll {
  const sum = noToll(payer)
  for (const toll of list) for (const measure of MEASURES) sum[measure] += toll[measure]
  return sum
}
