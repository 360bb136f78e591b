import { median, type AddOnCase } from '@unvelt/core'
import type { AddOn, Ledger, Standing } from '@unvelt/contract'
import type { SummedCells } from '../ledger/cell-sums.js'
import type { SiteAxes } from './site-cases.service.js'

export function countsOf(addOns: readonly AddOn[], cases: readonly AddOnCase[]): Standing['addOns'] {
  const active = cases.filter((each) => each.active)
  const seen = active.filter(({ usedOn }) => usedOn.length > 0)
  const unseen = active.filter((each) => each.works !== null && each.usedOn.length === 0)
  const nowhere = active.filter(
    (each) =>
      each.works === null &&
      each.usedOn.length === 0 &&
      each.pages.length > 0 &&
      !each.pages.has((word, isPublic) => word !== 'not seen' && isPublic),
  )
  return {
    all: addOns.length,
    active: active.length,
    seenInUse: seen.length,
    notSeen: nowhere.length,
    worksUnseen: unseen.length,
    notKnown: active.length - seen.length - unseen.length - nowhere.length,
    undecided: addOns.filter(({ verdict, kind }) => verdict.verdict === 'undecided' && kind !== 'theme').length,
  }
}

/** Requests that nothing could be charged with. */
export function unassignedRequests(sums: SummedCells | null): number {
  const at = sums?.payers.indexOf('unassigned') ?? -1
  return at === -1 ? 0 : sums!.byPayer.requests[at]!
}

export function kindsOf({ payers }: SiteAxes, sums: SummedCells | null): Standing['kinds'] {
  const at = new Map(sums?.payers.map((slug, index) => [slug, index]))
  const kinds = new Map<string, Standing['kinds'][number]>()
  for (const { slug, kind } of payers) {
    const of = kinds.get(kind) ?? { kind, payers: 0, ...NO_COSTS }
    kinds.set(kind, of)
    of.payers++
    const index = at.get(slug)
    if (sums && index !== undefined) for (const measure of OF_KINDS) of[measure] += sums.byPayer[measure][index]!
  }
  return [...kinds.values()].sort((a, b) => b.transferBytes - a.transferBytes)
}

const NO_COSTS = { requests: 0, transferBytes: 0, idleBytes: 0, mainThreadMs: 0, serverMs: 0 }
const OF_KINDS = ['requests', 'transferBytes', 'idleBytes', 'mainThreadMs', 'serverMs'] as const

/** What the middle of the pages that were read weighs; none where none was. */
export function middleOf(
  { pages, unreadPages }: Pick<Ledger, 'pages' | 'unreadPages'>,
  { pages: told, byPage }: SummedCells,
): Omit<Standing['middle'], 'loadMs'> | null {
  const unread = new Set(unreadPages)
  const read = pages.filter((_, index) => !unread.has(index))
  if (read.length === 0) return null
  const at = new Map(told.map((id, index) => [id, index]))
  const middle = (sums: Float64Array) => median(read.map(({ id }) => sums[at.get(id) ?? -1] ?? 0))
  return {
    requests: middle(byPage.requests),
    transferBytes: middle(byPage.transferBytes),
    idleBytes: middle(byPage.idleBytes),
    decodedBytes: middle(byPage.decodedBytes),
    serverMs: middle(byPage.serverMs),
  }
}
