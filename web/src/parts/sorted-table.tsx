import {
  flexRender,
  getCoreRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnDef,
  type SortingState,
} from '@tanstack/react-table'
import clsx from 'clsx'
import { useState } from 'react'

declare module '@tanstack/react-table' {
  // The type parameters are the library's own.
  // eslint-disable-next-line @typescript-eslint/no-unused-vars
  interface ColumnMeta<TData, TValue> {
    /** Figures stand to the right. */
    figure?: boolean
  }
}

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
  return (
    <table aria-label={label} className="figures w-full">
      <thead className="sticky top-0 z-10 bg-paper">
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id} className="border-b border-line text-left text-soft">
            {group.headers.map((header) => {
              const sorted = header.column.getIsSorted()
              return (
                <th
                  key={header.id}
                  aria-sort={sorted === 'asc' ? 'ascending' : sorted === 'desc' ? 'descending' : 'none'}
                  className="px-2 py-2 font-normal first:pl-4 last:pr-4"
                >
                  <button
                    type="button"
                    onClick={header.column.getToggleSortingHandler()}
                    className={clsx(
                      'flex w-full items-center gap-1 whitespace-nowrap hover:text-ink',
                      header.column.columnDef.meta?.figure && 'justify-end',
                    )}
                  >
                    {flexRender(header.column.columnDef.header, header.getContext())}
                    <span aria-hidden className="w-2 text-verdigris">
                      {sorted === 'asc' ? '↑' : sorted === 'desc' ? '↓' : ''}
                    </span>
                  </button>
                </th>
              )
            })}
          </tr>
        ))}
      </thead>
      <tbody>
        {table.getRowModel().rows.map((row) => (
          <tr key={row.id} className="border-b border-line/60 hover:bg-sheet">
            {row.getVisibleCells().map((cell) => (
              <td
                key={cell.id}
                className={clsx(
                  'px-2 py-1.5 first:pl-4 last:pr-6',
                  cell.column.columnDef.meta?.figure && 'pr-5 text-right whitespace-nowrap',
                )}
              >
                {flexRender(cell.column.columnDef.cell, cell.getContext())}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
