import clsx from 'clsx'
import { useRef, type KeyboardEvent } from 'react'
import type { Measure } from '@unvelt/contract'
import { MEASURE_WORDS } from '../figures/format.js'
import { Cell, cellId, edgeOf } from './cell.js'
import { kindGroups } from './groups.js'
import { isAddOn, type Matrix } from './matrix.js'
import { boundsOf, type Corner, type Selection } from './selection.js'

interface GridProps {
  matrix: Matrix
  measure: Measure
  selection: Selection | null
  onSelect(selection: Selection | null): void
  /** L on the keyboard: leave out what is selected. */
  onLeaveOut(): void
}

const NAME_WIDTH = 172

/** The matrix: add-ons down, pages across, margins on the right and below. */
export function LedgerGrid({ matrix, measure, selection, onSelect, onLeaveOut }: GridProps) {
  const { rows, columns } = matrix
  const dragging = useRef(false)
  const bounds = selection && boundsOf(selection)
  const words = MEASURE_WORDS[measure]
  const most = Math.max(...rows.flatMap((_, r) => columns.map((_, c) => matrix.cell(r, c)?.[measure] ?? 0)), 0)
  const groups = kindGroups(columns)
  const startsGroup = (column: number) => groups.some((group) => group.from === column)

  const selectCell = (at: Corner, extend: boolean) =>
    onSelect({ scope: 'cells', anchor: extend && selection ? selection.anchor : at, head: at })
  const selectRow = (row: number) =>
    onSelect({ scope: 'rows', anchor: { row, column: 0 }, head: { row, column: columns.length - 1 } })
  const selectColumns = (from: number, to: number, scope: 'columns' | 'kind') =>
    onSelect({ scope, anchor: { row: 0, column: from }, head: { row: rows.length - 1, column: to } })

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Escape') return onSelect(null)
    if (event.key.toLowerCase() === 'l' && selection && !event.ctrlKey && !event.metaKey) return onLeaveOut()
    const step = STEPS[event.key]
    if (!step) return
    event.preventDefault()
    const from = selection?.head ?? { row: 0, column: 0 }
    const far = event.ctrlKey || event.metaKey ? 1e6 : 1
    const clamp = (value: number, length: number) => Math.max(0, Math.min(length - 1, value))
    const head = selection
      ? {
          row: clamp(from.row + step[0] * far, rows.length),
          column: clamp(from.column + step[1] * far, columns.length),
        }
      : from
    selectCell(head, event.shiftKey)
    document.getElementById(cellId(head))?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }

  return (
    <div
      role="grid"
      aria-label={`Ledger, ${words.name}`}
      aria-multiselectable
      aria-rowcount={rows.length + 2}
      aria-colcount={columns.length + 2}
      aria-activedescendant={selection ? cellId(selection.head) : undefined}
      tabIndex={0}
      onKeyDown={onKeyDown}
      onPointerUp={() => (dragging.current = false)}
      className="h-full overflow-auto outline-none select-none"
    >
      <table className="figures border-separate border-spacing-0">
        <thead className="sticky top-0 z-10 bg-paper">
          <tr role="row" className="text-left text-[12.5px] text-soft">
            <th className="sticky left-0 z-10 bg-paper" style={{ minWidth: NAME_WIDTH }} />
            {groups.map(({ kind, from, to }) => (
              <th key={from} colSpan={to - from + 1} className="border-l border-line p-0 font-normal">
                <button
                  type="button"
                  tabIndex={-1}
                  onClick={() => selectColumns(from, to, 'kind')}
                  className="w-full px-2 py-1 text-left hover:text-verdigris"
                  title={`Select every page of kind ${kind}`}
                >
                  {kind} <span className="text-soft">({to - from + 1})</span>
                </button>
              </th>
            ))}
            <th className="border-l border-line" />
          </tr>
          <tr role="row">
            <th className="sticky left-0 z-10 border-b border-line bg-paper pr-3 pb-1.5 pl-4 text-left align-bottom font-normal text-soft">
              {words.name}
              {words.unit && <>, {words.unit}</>}
            </th>
            {columns.map((page, column) => (
              <th
                key={page.id}
                role="columnheader"
                aria-colindex={column + 2}
                className={clsx('border-b border-line p-0 align-bottom font-normal', startsGroup(column) && 'border-l')}
              >
                <button
                  type="button"
                  tabIndex={-1}
                  onClick={() => selectColumns(column, column, 'columns')}
                  title={`${page.title} · ${page.path}`}
                  className={clsx(
                    'mx-auto flex h-[132px] items-end overflow-hidden pb-1.5 text-left hover:text-verdigris',
                    bounds && column >= bounds.left && column <= bounds.right && 'font-semibold',
                  )}
                >
                  <span className="rotate-180 truncate [writing-mode:vertical-rl]" style={{ maxHeight: 126 }}>
                    {page.title}
                  </span>
                </button>
              </th>
            ))}
            <th
              role="columnheader"
              className="border-b border-l border-line px-3 pb-1.5 text-right align-bottom font-semibold"
            >
              Total
            </th>
          </tr>
        </thead>
        <tbody
          onPointerDown={(event) => {
            const at = event.button === 0 ? cornerOf(event.target) : null
            if (!at) return
            dragging.current = true
            selectCell(at, event.shiftKey)
          }}
          onPointerOver={(event) => {
            const at = dragging.current ? cornerOf(event.target) : null
            if (at) selectCell(at, true)
          }}
        >
          {rows.map((payer, row) => (
            <tr key={payer.slug} role="row" aria-rowindex={row + 2}>
              <th
                role="rowheader"
                className={clsx(
                  'sticky left-0 z-[5] bg-paper p-0 text-left',
                  row > 0 && isAddOn(rows[row - 1]!) && !isAddOn(payer) && 'border-t border-line',
                )}
              >
                <button
                  type="button"
                  tabIndex={-1}
                  onClick={() => selectRow(row)}
                  title={`Select ${payer.name} everywhere`}
                  className={clsx(
                    'block w-full truncate py-1 pr-3 pl-4 text-left hover:text-verdigris',
                    bounds && row >= bounds.top && row <= bounds.bottom ? 'font-semibold' : 'font-normal',
                    !isAddOn(payer) && 'text-soft italic',
                  )}
                  style={{ maxWidth: NAME_WIDTH }}
                >
                  {payer.name}
                </button>
              </th>
              {columns.map((page, column) => (
                <Cell
                  key={page.id}
                  matrix={matrix}
                  measure={measure}
                  row={row}
                  column={column}
                  most={most}
                  edge={bounds && edgeOf(bounds, { row, column })}
                  groupEdge={startsGroup(column)}
                  ruleAbove={row > 0 && isAddOn(rows[row - 1]!) && !isAddOn(payer)}
                />
              ))}
              <td role="gridcell" className="border-l border-line px-3 text-right font-semibold">
                <Total value={matrix.rowTotals[row]![measure]} measure={measure} />
              </td>
            </tr>
          ))}
        </tbody>
        <tfoot className="sticky bottom-0 z-10 bg-paper">
          <tr role="row">
            <th
              role="rowheader"
              className="sticky left-0 z-10 border-t border-ink/50 bg-paper py-1.5 pl-4 text-left font-semibold"
            >
              Page
            </th>
            {columns.map((page, column) => (
              <td
                key={page.id}
                role="gridcell"
                className={clsx(
                  'border-t border-ink/50 px-2 text-right font-semibold',
                  startsGroup(column) && 'border-l border-l-line',
                )}
              >
                {matrix.unread.has(column) ? (
                  <span className="font-normal text-soft">unread</span>
                ) : (
                  <Total value={matrix.columnTotals[column]![measure]} measure={measure} />
                )}
              </td>
            ))}
            <td role="gridcell" className="border-t border-l border-ink/50 border-l-line px-3 text-right font-semibold">
              <Total value={matrix.total[measure]} measure={measure} />
            </td>
          </tr>
        </tfoot>
      </table>
    </div>
  )
}

/** A margin: the figure as it is shown, and behind it the exact one. */
function Total({ value, measure }: { value: number; measure: Measure }) {
  return <data value={value}>{MEASURE_WORDS[measure].short(value)}</data>
}

const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}

/** The cell that something inside the matrix belongs to. */
function cornerOf(target: EventTarget): Corner | null {
  const [, row, column] = /^cell-(\d+)-(\d+)$/.exec((target as Element).closest('td')?.id ?? '') ?? []
  return row === undefined || column === undefined ? null : { row: Number(row), column: Number(column) }
}
