import type { Toll } from '../toll/toll.js'

/** What one payer costs more (or less) in one load than in another. Requests are a count, bytes those on the wire. */
export interface PayerDifference {
  payer: string
  requests: number
  transferBytes: number
}

/**
 * Who pays for the difference between two loads of a page, the most bytes first. Over all payers it adds up to the whole
 * difference; payers that cost the same in both are left out.
 */
export function payerDifferences(before: readonly Toll[], after: readonly Toll[]): PayerDifference[] {
  const found = new Map<string, PayerDifference>()
  const count = (tolls: readonly Toll[], sign: 1 | -1) => {
    for (const { payer, requests, transferBytes } of tolls) {
      const one = found.get(payer) ?? { payer, requests: 0, transferBytes: 0 }
      one.requests += sign * requests
      one.transferBytes += sign * transferBytes
      found.set(payer, one)
    }
  }
  count(after, 1)
  count(before, -1)
  return [...found.values()]
    .filter(({ requests, transferBytes }) => requests !== 0 || transferBytes !== 0)
    .sort((a, b) => Math.abs(b.transferBytes) - Math.abs(a.transferBytes) || a.payer.localeCompare(b.payer))
}
