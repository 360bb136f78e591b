import type { Toll } from '../toll/toll.js'
import type { BasisRequest, PredictionBasis } from './basis.js'
import type { Charges } from './charges.js'

/** What a page goes without. */
export interface Gone {
  /** Of each request whether it goes. */
  requests: readonly boolean[]
  isCodeGone(inline: number): boolean
  /** Whether the site does not run a payer, and glues without it. */
  isSkipped(payer: string): boolean
}

/** Of an address that is asked for several times: the request that went out first, and one that the browser had the file for. */
export interface Swap {
  wentOut: number[]
  first: number
  fromCache: number
  all: number[]
}

/**
 * Addresses that went over the line for one asker and came from the browser's cache for another. If the first goes and another
 * stays, that one goes over the line instead: then what the cached one cost is spared, and not what the line did.
 */
export function swaps({ asked, requests }: Pick<PredictionBasis, 'asked' | 'requests'>): Swap[] {
  return asked.askers.flatMap((all) => {
    if (all.length < 2) return []
    const out = all.filter((index) => requests[index]!.wentOut)
    const cached = all.find((index) => !requests[index]!.wentOut)
    return out.length === 0 || cached === undefined ? [] : [{ wentOut: out, first: out[0]!, fromCache: cached, all }]
  })
}

/** What a copy from the cache costs: whatever a recording says of it, nothing on the line. */
export const cachedCharges = ({ requests }: Charges, index: number): Toll[] =>
  requests[index]!.map((toll) => ({ ...toll, requests: 0, transferBytes: 0 }))

/** What a page is spared, by payer; nothing in a measure is `-0`, and a payer of whom nothing goes is not in it. */
export function sparedWithout(basis: PredictionBasis, gone: Gone): Toll[] {
  const { charges, asked } = basis
  const spared = new Map<string, Toll>()
  const add = ({ payer, ...figures }: Toll, times = 1) => {
    const sum = spared.get(payer) ?? {
      payer, requests: 0, transferBytes: 0, decodedBytes: 0, idleBytes: 0, mainThreadMs: 0, serverMs: 0, queries: 0, queryMs: 0,
    } // prettier-ignore
    for (const measure of Object.keys(figures) as (keyof typeof figures)[]) sum[measure] += times * figures[measure]
    spared.set(payer, sum)
  }
  charges.requests.forEach((tolls, index) => {
    if (gone.requests[index]) for (const toll of tolls) add(toll)
    else partsGone(basis.requests[index]!, gone.isSkipped, tolls).forEach((toll) => add(toll))
  })
  for (const { wentOut: out, first, fromCache, all } of swaps(basis)) {
    if (!out.every((index) => gone.requests[index]) || all.every((index) => gone.requests[index])) continue
    for (const toll of charges.requests[first]!) add(toll, -1)
    // Whoever had it from the cache has it from the line now; the one copy less is the first one's.
    for (const toll of cachedCharges(charges, fromCache)) add({ ...toll, payer: charges.requests[first]![0]!.payer })
  }
  charges.inline.forEach((toll, index) => {
    if (toll && gone.isCodeGone(index)) add(toll)
  })
  for (const { toll, address, inline } of charges.times)
    if (
      (address >= 0 && asked.askers[address]!.every((index) => gone.requests[index])) ||
      (inline >= 0 && gone.isCodeGone(inline))
    )
      add(toll)
  for (const toll of charges.server) if (gone.isSkipped(toll.payer)) add(toll)
  return [...spared.values()]
}

/** Of a glued file that stays, the parts that the site glues without; the file itself where nothing of it is left. */
function partsGone(
  { isMapped }: BasisRequest,
  isSkipped: (payer: string) => boolean,
  [request, ...parts]: Toll[],
): Toll[] {
  if (parts.length === 0 || isMapped) return []
  const gone = parts.filter(({ payer }) => isSkipped(payer))
  return gone.length === parts.length ? [request!, ...gone] : gone
}
