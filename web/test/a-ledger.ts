import 'reflect-metadata'
import { MEASURES, type AddOn, type Ledger, type LedgerCells, type LedgerDetail, type Page } from '@unvelt/contract'
import type { Known } from '../src/ledger/lines.js'
import { Sheet } from '../src/ledger/sheet.js'

const NO_WORDS = { words: [], rows: [] }

const page = (id: number, kind: string, views: number | null): Page => ({
  id,
  path: `/${id}`,
  title: `Page ${id}`,
  kind,
  area: 'public',
  signedIn: false,
  modified: null,
  views,
})

/** A small ledger: transfer by payer and page as given; every other measure is as much, but for requests, which are 1. */
export function aLedger(transfer: Record<string, (number | null)[]>, more: Partial<Ledger> = {}): Sheet {
  const slugs = Object.keys(transfer)
  const cells: [payer: number, page: number, value: number][] = slugs.flatMap((slug, payer) =>
    transfer[slug]!.flatMap((value, at): [number, number, number][] => (value === null ? [] : [[payer, at, value]])),
  )
  const values = Object.fromEntries(
    MEASURES.map((measure) => [
      measure,
      Uint32Array.from(cells, ([, , value]) => (measure === 'requests' ? 1 : value)),
    ]),
  ) as LedgerCells['values']
  const ledger: Ledger = {
    sweep: null,
    pages: [page(11, 'article', 100), page(12, 'shop', 300), page(13, 'article', null)],
    payers: slugs.map((slug) => ({ slug, name: slug, kind: slug === 'content' ? 'content' : 'plugin', version: null })),
    unreadPages: [],
    live: NO_WORDS,
    drafts: NO_WORDS,
    use: NO_WORDS,
    usedElsewhere: [],
    ...more,
  }
  return new Sheet(ledger, {
    pages: [],
    payers: [],
    count: cells.length,
    payer: Uint16Array.from(cells, ([payer]) => payer),
    page: Uint16Array.from(cells, ([, at]) => at),
    values,
  })
}

export const known = (addOns: Partial<AddOn>[] = [], details: Record<string, LedgerDetail> = {}): Known => ({
  addOns: new Map(
    addOns.map((each) => [
      each.slug!,
      {
        jobs: [],
        outsideHosts: [],
        verdict: { verdict: 'undecided', why: '', who: '', at: '' },
        ...each,
      } as unknown as AddOn,
    ]),
  ),
  details: new Map(Object.entries(details)),
})
