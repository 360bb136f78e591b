import { flexRender, type Table } from '@tanstack/react-table'
import clsx from 'clsx'
import type { RefObject } from 'react'

/** Which rows of a table are drawn, where not all of them are. */
export interface Sight {
  from: number
  /** The first that is not drawn any more. */
  to: number
  /** Room to leave for those that are not, in pixels. */
  before: number
  after: number
  measure: ((row: HTMLTableRowElement | null) => void) | undefined
  /** Of the columns, once they are known: rows that come and go must not move them. */
  widths: readonly number[] | null
}

interface DrawnTableProps<Row> {
  table: Table<Row>
  label: string
  element?: RefObject<HTMLTableElement | null>
  /** All rows are drawn without it. */
  sight?: Sight
}

/** Where a table is wider than its room, whom a row is about stays in sight. */
const STAYS = 'max-md:first:sticky max-md:first:left-0 max-md:first:bg-paper'

/** A table as it is drawn, with heads to sort it by. */
export function DrawnTable<Row>({ table, label, element, sight }: DrawnTableProps<Row>) {
  const all = table.getRowModel().rows
  const from = sight?.from ?? 0
  return (
    <table
      ref={element}
      aria-label={label}
      aria-rowcount={sight && all.length + 1}
      className={clsx('figures w-full', sight?.widths && 'table-fixed')}
    >
      {sight?.widths && (
        <colgroup>
          {sight.widths.map((width, n) => (
            <col key={n} style={{ width }} />
          ))}
        </colgroup>
      )}
      <thead className="sticky top-0 z-10 bg-paper">
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id} className="border-b border-line text-left text-soft">
            {group.headers.map((header) => {
              const sorted = header.column.getIsSorted()
              return (
                <th
                  key={header.id}
                  aria-sort={sorted === 'asc' ? 'ascending' : sorted === 'desc' ? 'descending' : 'none'}
                  className={clsx('px-2 py-2 font-normal first:min-w-44 first:pl-4 last:pr-4', STAYS)}
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
        {sight && sight.before > 0 && <tr aria-hidden style={{ height: sight.before }} />}
        {all.slice(from, sight?.to).map((row, n) => (
          <tr
            key={row.id}
            ref={sight?.measure}
            data-index={sight && from + n}
            aria-rowindex={sight && from + n + 2}
            className="border-b border-line/60 hover:bg-sheet"
          >
            {row.getVisibleCells().map((cell) => (
              <td
                key={cell.id}
                className={clsx(
                  'px-2 py-1.5 first:pl-4 last:pr-6',
                  STAYS,
                  cell.column.columnDef.meta?.figure && 'pr-5 text-right whitespace-nowrap',
                )}
              >
                {flexRender(cell.column.columnDef.cell, cell.getContext())}
              </td>
            ))}
          </tr>
        ))}
        {sight && sight.after > 0 && <tr aria-hidden style={{ height: sight.after }} />}
      </tbody>
    </table>
  )
}
