import { useMemo } from 'react'
import type { Ledger, Measure } from '@unvelt/contract'
import { orderByKind } from './groups.js'
import { buildMatrix, isAddOn, type Matrix } from './matrix.js'

/** The matrix as it is shown: pages by kind, add-ons by their total in the measure, what is no add-on below them. */
export function useMatrix(ledger: Ledger, measure: Measure): Matrix {
  const plain = useMemo(() => buildMatrix(ledger), [ledger])
  return useMemo(() => {
    const columns = orderByKind(ledger.pages)
    const rows = ledger.payers
      .map((_, index) => index)
      .sort(
        (a, b) =>
          Number(isAddOn(ledger.payers[b]!)) - Number(isAddOn(ledger.payers[a]!)) ||
          plain.rowTotals[b]![measure] - plain.rowTotals[a]![measure] ||
          ledger.payers[a]!.name.localeCompare(ledger.payers[b]!.name),
      )
    const at = (order: number[], shown: number) => order[shown]!
    return {
      ...plain,
      rows: rows.map((index) => ledger.payers[index]!),
      columns: columns.map((index) => ledger.pages[index]!),
      rowTotals: rows.map((index) => plain.rowTotals[index]!),
      columnTotals: columns.map((index) => plain.columnTotals[index]!),
      unread: new Set(columns.flatMap((index, shown) => (plain.unread.has(index) ? [shown] : []))),
      cell: (row, column) => plain.cell(at(rows, row), at(columns, column)),
      live: (row, column) => plain.live(at(rows, row), at(columns, column)),
      draft: (row, column) => plain.draft(at(rows, row), at(columns, column)),
    }
  }, [ledger, plain, measure])
}
