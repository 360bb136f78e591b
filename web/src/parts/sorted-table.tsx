import {
  getCoreRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnDef,
  type SortingState,
  type Table,
} from '@tanstack/react-table'
import { useState } from 'react'
import { DrawnTable } from './drawn-table.js'
import { lazily } from './lazily.js'

declare module '@tanstack/react-table' {
  // The type parameters are the library's own.
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  interface ColumnMeta<TData, TValue> {
    /** Figures stand to the right. */
    figure?: boolean
  }
}

/** Of more rows only those are drawn that are seen, by code that comes with them. */
const MANY = 150

const LongTable = lazily<{ table: Table<unknown>; label: string }>(
  async () => (await import('./long-table.js')).LongTable,
)

interface SortedTableProps<Row> {
  rows: Row[]
  // A column's value type is its own affair.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  columns: ColumnDef<Row, any>[]
  sort: SortingState
  label: string
}

/** A table that sorts by any column. */
export function SortedTable<Row>({ rows, columns, sort, label }: SortedTableProps<Row>) {
  const [sorting, setSorting] = useState(sort)
  // eslint-disable-next-line react-hooks/incompatible-library
  const table = useReactTable({
    data: rows,
    columns,
    state: { sorting },
    onSortingChange: setSorting,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  })
  if (table.getRowModel().rows.length <= MANY) return <DrawnTable table={table} label={label} />
  return <LongTable table={table as Table<unknown>} label={label} />
}
