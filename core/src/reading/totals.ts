import type { Reading, RequestRecord } from './reading.js'

/** A page's own totals over one reading, in requests and bytes. */
export interface ReadingTotals {
  requests: number
  transferBytes: number
  decodedBytes: number
}

/** Whether a request went over the network. What came from the browser's own cache costs the page no request. */
export const wentOut = (request: RequestRecord): boolean => !request.fromCache

export function readingTotals(reading: Reading): ReadingTotals {
  const totals = { requests: 0, transferBytes: 0, decodedBytes: 0 }
  for (const request of reading.requests) {
    totals.requests += wentOut(request) ? 1 : 0
    totals.transferBytes += request.transferBytes
    totals.decodedBytes += request.decodedBytes
  }
  return totals
}
