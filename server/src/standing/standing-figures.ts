import { setImmediate } from 'node:timers/promises'
import { NOT_ADDONS, USE_WORDS, type AddOnCase, type PageCase } from '@unvelt/core'
import {
  MEASURES,
  packCells,
  unpackCells,
  type AddOn,
  type Ledger,
  type LedgerCells,
  type Standing,
} from '@unvelt/contract'
import { bufferOf } from '../ledger/buffer-of.js'
import type { PageRow } from '../page/page.model.js'
import { UseColumns } from '../use/use-columns.js'
import type { UseWords } from '../use/use-words.js'

export const NO_CELLS: LedgerCells = unpackCells(
  bufferOf(packCells({ pages: [], payers: [] }, [], [], Object.fromEntries(MEASURES.map((m) => [m, []])) as never)),
)

/** `everywhere` are all pages of the site, those among them that no sweep has read: an add-on may be in use there. */
export async function casesOf(
  addOns: readonly AddOn[],
  ledger: Ledger,
  cells: LedgerCells,
  use: UseWords,
  everywhere: readonly Pick<PageRow, 'id' | 'path'>[],
): Promise<AddOnCase[]> {
  const at = new Map(ledger.payers.map(({ slug }, index) => [slug, index]))
  const cellsOf = cellsByPayer(ledger, cells)
  const shownWords = new UseColumns(
    use,
    ledger.pages.map(({ id }) => id),
  )
  const words = new UseColumns(
    use,
    everywhere.map(({ id }) => id),
  )
  const paths = everywhere.map(({ path }) => path)
  const cases: AddOnCase[] = []
  for (const addOn of addOns) {
    if (NOT_ADDONS.includes(addOn.slug)) continue
    // Whoever asks for something smaller meanwhile does not wait for all of them.
    if (cases.length % AT_A_TIME === AT_A_TIME - 1) await setImmediate()
    const payer = at.get(addOn.slug)
    cases.push({
      slug: addOn.slug,
      name: addOn.name,
      kind: addOn.kind,
      active: addOn.active,
      works: addOn.works as AddOnCase['works'],
      neededBy: addOns.filter(({ needs }) => needs.includes(addOn.slug)).map(({ slug }) => slug),
      told: addOn.blocks.length > 0,
      canSkip: addOn.canSkip,
      jobs: addOn.jobs,
      outsideHosts: addOn.outsideHosts,
      features: addOn.features,
      verdict: addOn.verdict.verdict,
      tableBytes: addOn.tables.reduce((sum, { bytes }) => sum + bytes, 0),
      usedOn: words.usedOn(addOn.slug).map((page) => paths[page]!),
      pages: payer === undefined ? [] : pageCases(ledger, cells, cellsOf[payer]!, shownWords.of(addOn.slug)),
    })
  }
  return cases
}

const AT_A_TIME = 32

/** @param words The places of the add-on's words in `USE_WORDS`, page by page. */
function pageCases(ledger: Ledger, cells: LedgerCells, places: Uint32Array, words: Uint8Array): PageCase[] {
  const { transferBytes, serverMs, mainThreadMs, requests } = cells.values
  const cases = new Array<PageCase>(places.length)
  for (let n = 0; n < places.length; n++) {
    const i = places[n]!
    const at = cells.page[i]!
    const page = ledger.pages[at]!
    cases[n] = {
      pageId: page.id,
      path: page.path,
      area: page.area as 'public' | 'office',
      views: page.views,
      word: USE_WORDS[words[at]!]!,
      transferBytes: transferBytes[i]!,
      serverMs: serverMs[i]!,
      mainThreadMs: mainThreadMs[i]!,
      requests: requests[i]!,
    }
  }
  return cases
}

export function countsOf(addOns: readonly AddOn[], cases: readonly AddOnCase[]): Standing['addOns'] {
  const active = cases.filter((each) => each.active)
  const seen = active.filter(({ usedOn }) => usedOn.length > 0)
  const unseen = active.filter((each) => each.works !== null && each.usedOn.length === 0)
  const nowhere = active.filter(
    (each) =>
      each.works === null &&
      each.usedOn.length === 0 &&
      each.pages.length > 0 &&
      each.pages.every(({ word, area }) => word === 'not seen' || area === 'office'),
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

export function sumOf(
  { payers }: Ledger,
  cells: LedgerCells,
  measure: keyof LedgerCells['values'],
  wanted: (payer: Ledger['payers'][number]) => boolean,
): number {
  const isWanted = Uint8Array.from(payers, (payer) => Number(wanted(payer)))
  const column = cells.values[measure]
  let sum = 0
  for (let i = 0; i < cells.count; i++) if (isWanted[cells.payer[i]!]) sum += column[i]!
  return sum
}

export function kindsOf(ledger: Ledger, cells: LedgerCells): Standing['kinds'] {
  const kinds = [...new Set(ledger.payers.map(({ kind }) => kind))]
  const kindOf = Uint16Array.from(ledger.payers, ({ kind }) => kinds.indexOf(kind))
  const sums = Object.fromEntries(OF_KINDS.map((measure) => [measure, new Float64Array(kinds.length)])) as Record<
    (typeof OF_KINDS)[number],
    Float64Array
  >
  for (const measure of OF_KINDS) {
    const [column, sum] = [cells.values[measure], sums[measure]]
    for (let i = 0; i < cells.count; i++) sum[kindOf[cells.payer[i]!]!]! += column[i]!
  }
  return kinds
    .map((kind, at) => ({
      kind,
      payers: kindOf.reduce((count, each) => count + Number(each === at), 0),
      requests: sums.requests[at]!,
      transferBytes: sums.transferBytes[at]!,
      idleBytes: sums.idleBytes[at]!,
      mainThreadMs: sums.mainThreadMs[at]!,
      serverMs: sums.serverMs[at]!,
    }))
    .sort((a, b) => b.transferBytes - a.transferBytes)
}

const OF_KINDS = ['requests', 'transferBytes', 'idleBytes', 'mainThreadMs', 'serverMs'] as const

/** Places of each payer's cells in the columns. */
function cellsByPayer({ payers }: Ledger, { count, payer }: LedgerCells): Uint32Array[] {
  const counts = new Uint32Array(payers.length)
  for (let i = 0; i < count; i++) counts[payer[i]!]!++
  const places = Array.from(counts, (many) => new Uint32Array(many))
  counts.fill(0)
  for (let i = 0; i < count; i++) places[payer[i]!]![counts[payer[i]!]!++] = i
  return places
}
