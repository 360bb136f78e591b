import 'reflect-metadata'
import { onLedger, unpackCells, type Ledger, type Measure } from '@unvelt/contract'
import type { appForTest } from './app-for-test.js'

/** The cells of a ledger as the interface takes them, summed by measure or found by payer. */
export async function ledgerCells(t: Awaited<ReturnType<typeof appForTest>>, site: string, ledger: Ledger) {
  const base = await t.app.getUrl()
  const response = await fetch(`${base}/api${site}/ledger/cells?sweep=${ledger.sweep!.id}`)
  const { count, page, payer, values } = onLedger(ledger, unpackCells(await response.arrayBuffer()))
  const all = Array.from({ length: count }, (_, index) => index)
  return {
    count,
    sum: (measure: Measure) => values[measure].reduce((a: number, b: number) => a + b, 0),
    /** Of one payer, on all its pages. */
    row: (slug: string, measure: Measure): number[] =>
      all.filter((index) => ledger.payers[payer[index]!]!.slug === slug).map((index) => values[measure][index]!),
    cell: (slug: string, measure: Measure) =>
      values[measure][all.find((index) => ledger.payers[payer[index]!]!.slug === slug)!],
    pageSum: (pageId: number, measure: Measure) =>
      all
        .filter((index) => ledger.pages[page[index]!]!.id === pageId)
        .reduce((sum, index) => sum + values[measure][index]!, 0),
  }
}
