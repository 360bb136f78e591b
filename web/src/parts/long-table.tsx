import type { Table } from '@tanstack/react-table'
import { useRef } from 'react'
import { DrawnTable } from './drawn-table.js'
import { useRowsInSight } from './rows-in-sight.js'

interface LongTableProps<Row> {
  table: Table<Row>
  label: string
}

/** A table of so many rows that only those are drawn that are seen, and some around them. It scrolls with whatever it stands in. */
export function LongTable<Row>({ table, label }: LongTableProps<Row>) {
  const element = useRef<HTMLTableElement>(null)
  const sight = useRowsInSight(element, table.getRowModel().rows.length, table.options.columns)
  return <DrawnTable table={table} label={label} element={element} sight={sight} />
}
