import { MEASURES, type Ledger, type LedgerPayer, type Measure, type Page } from '@unvelt/contract'

export type Figures = Record<Measure, number>

export const noFigures = (): Figures => Object.fromEntries(MEASURES.map((measure) => [measure, 0])) as Figures

/** The ledger's columns as rows and cells, with the margins that they add up to. */
export interface Matrix {
  ledger: Ledger
  rows: LedgerPayer[]
  columns: Page[]
  /** Figures of a cell; undefined where the payer costs nothing. */
  cell(row: number, column: number): Figures | undefined
  rowTotals: Figures[]
  columnTotals: Figures[]
  total: Figures
  unread: ReadonlySet<number>
  /** Effect of a live rule and of a draft on a cell. */
  live(row: number, column: number): string | undefined
  draft(row: number, column: number): string | undefined
}

export function buildMatrix(ledger: Ledger): Matrix {
  const width = ledger.pages.length
  const cells = new Map<number, Figures>()
  const rowTotals = ledger.payers.map(noFigures)
  const columnTotals = ledger.pages.map(noFigures)
  const total = noFigures()
  ledger.cellPage.forEach((column, i) => {
    const row = ledger.cellPayer[i]!
    const figures = noFigures()
    for (const measure of MEASURES) {
      const value = ledger.values[measure]?.[i] ?? 0
      figures[measure] = value
      rowTotals[row]![measure] += value
      columnTotals[column]![measure] += value
      total[measure] += value
    }
    cells.set(row * width + column, figures)
  })
  const marks = (list: Ledger['live']) => new Map(list.map((mark) => [mark.payer * width + mark.page, mark.effect]))
  const live = marks(ledger.live)
  const drafts = marks(ledger.drafts)
  return {
    ledger,
    rows: ledger.payers,
    columns: ledger.pages,
    cell: (row, column) => cells.get(row * width + column),
    rowTotals,
    columnTotals,
    total,
    unread: new Set(ledger.unreadPages),
    live: (row, column) => live.get(row * width + column),
    draft: (row, column) => drafts.get(row * width + column),
  }
}

/** Whether a payer is an add-on that rules can be about, and not the page's own content, the CMS or an unannounced outsider. */
export const isAddOn = (payer: LedgerPayer) =>
  !['content', 'cms', 'rest', 'glued', 'unassigned'].includes(payer.kind) && !payer.slug.startsWith('outside:')
