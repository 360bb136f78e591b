import { NOT_ADDONS, type AddOnCase, type UseWord } from '@unvelt/core'
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
import type { UseWords } from '../use/use-words.js'

export const NO_CELLS: LedgerCells = unpackCells(
  bufferOf(packCells({ pages: [], payers: [] }, [], [], Object.fromEntries(MEASURES.map((m) => [m, []])) as never)),
)

export type Words = (payer: number, page: number) => UseWord
export function wordsOf(ledger: Ledger): Words {
  const width = ledger.pages.length
  const known = new Map(ledger.use.map(({ payer, page, word }) => [payer * width + page, word as UseWord]))
  return (payer, page) => known.get(payer * width + page) ?? 'unknown'
}

/** `everywhere` are all pages of the site, those among them that no sweep has read: an add-on may be in use there. */
export function casesOf(
  addOns: readonly AddOn[],
  ledger: Ledger,
  cells: LedgerCells,
  words: Words,
  use: UseWords,
  everywhere: readonly PageRow[],
): AddOnCase[] {
  const at = new Map(ledger.payers.map(({ slug }, index) => [slug, index]))
  const cellsOf = ledger.payers.map((): number[] => [])
  for (let i = 0; i < cells.count; i++) cellsOf[cells.payer[i]!]!.push(i)
  return addOns
    .filter(({ slug }) => !NOT_ADDONS.includes(slug))
    .map((addOn) => {
      const payer = at.get(addOn.slug)
      return {
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
        usedOn: everywhere
          .filter(({ id }) => ['used', 'planned'].includes(use.wordOf(addOn.slug, id)))
          .map(({ path }) => path),
        pages: (payer === undefined ? [] : cellsOf[payer]!).map((i) => {
          const page = ledger.pages[cells.page[i]!]!
          return {
            pageId: page.id,
            path: page.path,
            area: page.area as 'public' | 'office',
            views: page.views,
            word: words(payer!, cells.page[i]!),
            transferBytes: cells.values.transferBytes[i]!,
            serverMs: cells.values.serverMs[i]!,
            mainThreadMs: cells.values.mainThreadMs[i]!,
            requests: cells.values.requests[i]!,
          }
        }),
      }
    })
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
  let sum = 0
  for (let i = 0; i < cells.count; i++) if (wanted(payers[cells.payer[i]!]!)) sum += cells.values[measure][i]!
  return sum
}

export function kindsOf(ledger: Ledger, cells: LedgerCells): Standing['kinds'] {
  const kinds = [...new Set(ledger.payers.map(({ kind }) => kind))]
  return kinds
    .map((kind) => {
      const of = (measure: keyof LedgerCells['values']) => sumOf(ledger, cells, measure, (payer) => payer.kind === kind)
      return {
        kind,
        payers: ledger.payers.filter((payer) => payer.kind === kind).length,
        requests: of('requests'),
        transferBytes: of('transferBytes'),
        idleBytes: of('idleBytes'),
        mainThreadMs: of('mainThreadMs'),
        serverMs: of('serverMs'),
      }
    })
    .sort((a, b) => b.transferBytes - a.transferBytes)
}
