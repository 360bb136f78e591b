import clsx from 'clsx'
import { memo } from 'react'
import type { Effect } from '@unvelt/contract'
import { effectWords } from '../rules/words.js'
import type { FigureWords } from './figure-words.js'
import { nameOf } from './line-names.js'
import { valueAt, type Column, type Line } from './lines.js'
import { within, type Bounds, type Corner } from './selection.js'
import { shade } from './shade.js'
import { UseMark } from './use-mark.js'
import type { Weighed } from './weighing.js'

export const CELL_WIDTH = 62
export const CELL_HEIGHT = 30
export const cellId = ({ row, column }: Corner) => `cell-${row}-${column}`

interface CellProps {
  weighed: Weighed
  words: FigureWords
  line: Line
  column: Column
  row: number
  at: number
  left: number
  /** Drawn over the cell while it is selected; null otherwise. */
  edge: string | null
}

/** One toll: shade and figure, what is known of use, and what rules do there. Drawn anew only when one of them changes. */
export const Cell = memo(function Cell({ weighed, words, line, column, row, at, left, edge }: CellProps) {
  const value = valueAt(weighed, line, column)
  const figure = words.short(value)
  // What the cell would print as nothing is nothing to look at; the figure itself is told on hover.
  const shown = figure !== '' && Number(figure.replaceAll(',', '')) > 0
  const { live, draft, use, usedFeature, unread } = marksOf(weighed, line, column)
  const unloaded = live !== undefined && live !== 'keep'
  return (
    <div
      id={cellId({ row, column: at })}
      role="gridcell"
      aria-colindex={at + 3}
      aria-selected={edge !== null}
      aria-label={cellWords(weighed, words, line, column).join(', ')}
      data-row={row}
      data-column={at}
      className={clsx(
        'toll',
        shown ? shade(value, weighed.most) : unloaded ? 'hatched' : 'toll-nothing',
        column.opens && 'toll-edge',
      )}
      style={{ left, width: CELL_WIDTH, height: CELL_HEIGHT }}
    >
      {shown ? figure : unread || line.type === 'feature' ? '' : '·'}
      {unloaded && shown && <span aria-hidden className="hatched absolute inset-0" />}
      {draft !== undefined && (
        <span aria-hidden className="absolute inset-[2px] border-[1.5px] border-dashed border-current" />
      )}
      {edge !== null && <span aria-hidden className="absolute -inset-px" style={{ boxShadow: edge }} />}
      {(use !== 'unknown' || usedFeature) && <UseMark word={usedFeature ? 'used' : use} />}
    </div>
  )
})

function marksOf({ sheet }: Weighed, line: Line, column: Column) {
  const single = column.folded ? null : column.pages[0]!
  const payer = line.type === 'payer' ? line.payers[0] : null
  const usedFeature =
    line.type === 'feature' && column.pages.some((page) => line.feature.usedOn.includes(sheet.ledger.pages[page]!.id))
  const unread = sheet.unread.size > 0 && column.pages.every((page) => sheet.unread.has(page))
  if (single === null || payer === null)
    return { live: undefined, draft: undefined, use: 'unknown' as const, usedFeature, unread }
  return {
    live: sheet.liveOn(payer, single),
    draft: sheet.draftOn(payer, single),
    use: sheet.useOf(payer, single),
    usedFeature,
    unread,
  }
}

/** All that a cell shows, in words: what is told on hover, and read out where it is selected. */
export function cellWords(weighed: Weighed, words: FigureWords, line: Line, column: Column): string[] {
  const { live, draft, use, usedFeature, unread } = marksOf(weighed, line, column)
  const what =
    line.type === 'feature'
      ? usedFeature
        ? 'in use'
        : line.feature.told
          ? 'not in use'
          : 'not known whether in use'
      : unread
        ? 'unread'
        : words.long(valueAt(weighed, line, column))
  return [
    `${nameOf(line)} on ${titleOf(weighed, column)}: ${what}`,
    ...(use === 'unknown' ? [] : [use as string]),
    ...(live ? [`live rule: ${effectWords({ effect: live as Effect })}`] : []),
    ...(draft ? [`draft: ${effectWords({ effect: draft as Effect })}`] : []),
  ]
}

const titleOf = ({ sheet }: Weighed, { pages, folded, kind }: Column): string =>
  folded ? `every ${kind} (median of ${pages.length})` : sheet.ledger.pages[pages[0]!]!.title

/** A line around the selected rectangle; null outside it. Nothing is laid over the figures. */
export function edgeOf(bounds: Bounds, { row, column }: Corner): string | null {
  if (!within(bounds, row, column)) return null
  const { top, bottom, left, right } = bounds
  const line = (on: boolean, x: number, y: number) => (on ? [`inset ${x}px ${y}px 0 0 var(--verdigris)`] : [])
  return [
    ...line(row === top, 0, 2.5),
    ...line(row === bottom, 0, -2.5),
    ...line(column === left, 2.5, 0),
    ...line(column === right, -2.5, 0),
    'inset 0 0 0 1px color-mix(in srgb, var(--verdigris) 60%, transparent)',
  ].join(', ')
}
