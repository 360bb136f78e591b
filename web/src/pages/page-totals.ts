import type { PageRequest } from '@unvelt/contract'

/** What a page comes to, as the ledger counts it: what came from the browser's own cache went out to nobody. */
export function pageTotals(requests: readonly Pick<PageRequest, 'fromCache' | 'transferBytes'>[]) {
  const out = requests.filter(({ fromCache }) => !fromCache)
  return {
    requests: out.length,
    fromCache: requests.length - out.length,
    transferBytes: requests.reduce((sum, { transferBytes }) => sum + transferBytes, 0),
  }
}
