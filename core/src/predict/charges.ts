import type { Attribution } from '../attribution/attribute.js'
import { splitRequest } from '../glue/split-request.js'
import { idleByRequest, inlineIdle } from '../idle/idle-bytes.js'
import { inlineAt } from '../reading/inline-place.js'
import type { Reading } from '../reading/reading.js'
import { wentOut } from '../reading/totals.js'
import { noToll, tolls, type Toll } from '../toll/toll.js'

/** What each thing of a page costs whom: the tolls of `tolls()`, taken apart by what they go with. */
export interface Charges {
  /** Of each request what it costs whom; of a glued file first the request, then the parts. */
  requests: Toll[][]
  /** Of each piece of inline code with a payer of its own. */
  inline: (Toll | null)[]
  /** Main-thread time that can go, with the address (place in `Askings.addresses`) or the piece of inline code it goes with; -1 for neither. */
  times: { toll: Toll; address: number; inline: number }[]
  /** What each payer does on the server. */
  server: Toll[]
}

/** @param addresses Every address that was asked for, once (`Askings.addresses`). */
export function chargesOf(reading: Reading, attribution: Attribution, addresses: readonly string[]): Charges {
  const idle = idleByRequest(reading)
  const useOf = new Map(reading.fileUse.map((use) => [use.requestId, use]))
  const requests = reading.requests.map((request): Toll[] => {
    const { payer } = attribution.requests.get(request.id)!
    const own = { ...noToll(payer), requests: wentOut(request) ? 1 : 0 }
    const shares = attribution.shares.get(request.id)
    if (shares && shares.length > 0)
      return [
        own,
        ...splitRequest(request, shares, useOf.get(request.id)).map(({ payer: of, ...bytes }) => ({
          ...noToll(of),
          ...bytes,
        })),
      ]
    const { transferBytes, decodedBytes } = request
    return [{ ...own, transferBytes, decodedBytes, idleBytes: idle.get(request.id) ?? 0 }]
  })
  const document = reading.requests.filter(({ type }) => type === 'document').at(-1)
  let left = document?.decodedBytes ?? 0
  const idleInline = inlineIdle(reading)
  const inline = reading.inlineCode.map((code, index): Toll | null => {
    const decodedBytes = Math.min(code.bytes, left)
    left -= decodedBytes
    const payer = attribution.inlineCode[index]?.payer
    return payer === undefined ? null : { ...noToll(payer), decodedBytes, idleBytes: idleInline[index]! }
  })
  const times = timesOf(reading, attribution, addresses)
  const server = tolls({ ...reading, requests: [], inlineCode: [], mainThread: [] }, attribution)
  return { requests, inline, times, server }
}

/** What one payer took in one file, or in one piece of inline code, is one time, to the nanosecond. */
function timesOf(reading: Reading, attribution: Attribution, addresses: readonly string[]): Charges['times'] {
  const byAddress = new Map(addresses.map((address, index) => [address, index]))
  const documents = new Set(reading.requests.filter(({ type }) => type === 'document').map(({ url }) => url))
  const inlineOf = inlineAt(reading.inlineCode)
  const sums = new Map<string, Charges['times'][number]>()
  reading.mainThread.forEach(({ url, line, column, ms }, index) => {
    const { payer } = attribution.mainThread[index]!
    const isOfPage = documents.has(url)
    const address = isOfPage ? -1 : (byAddress.get(url) ?? -1)
    const inline = isOfPage && line !== null ? inlineOf(line, column) : -1
    // It is nowhere that could go.
    if (address < 0 && inline < 0) return
    const key = `${address} ${inline} ${payer}`
    const sum = sums.get(key) ?? { toll: noToll(payer), address, inline }
    sum.toll.mainThreadMs += ms
    sums.set(key, sum)
  })
  for (const { toll } of sums.values()) toll.mainThreadMs = Math.round(toll.mainThreadMs * 1e6) / 1e6
  return [...sums.values()]
}
