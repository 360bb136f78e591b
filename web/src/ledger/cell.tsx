import clsx from 'clsx'
import { memo } from 'react'
import type { Effect, Measure } from '@unvelt/contract'
import { MEASURE_WORDS } from '../figures/format.js'
import { effectWords } from '../rules/words.js'
import type { Matrix } from './matrix.js'
import { within, type Bounds, type Corner } from './selection.js'
import { shade } from './shade.js'

interface CellProps {
  matrix: Matrix
  measure: Measure
  row: number
  column: number
  /** The largest toll in the matrix, which the shade is measured by. */
  most: number
  /** Drawn over the cell while it is selected; null otherwise. */
  edge: string | null
  groupEdge: boolean
  ruleAbove: boolean
}

export const cellId = ({ row, column }: Corner) => `cell-${row}-${column}`

/** One toll. Drawn again only when something about it changes, so that a selection can be dragged over thousands. */
export const Cell = memo(function Cell({ matrix, measure, row, column, most, edge, groupEdge, ruleAbove }: CellProps) {
  const value = matrix.cell(row, column)?.[measure] ?? 0
  const live = matrix.live(row, column)
  const draft = matrix.draft(row, column)
  const words = MEASURE_WORDS[measure]
  // What the cell would print as nothing is nothing to look at; the figure itself is told on hover.
  const shown = Number(words.short(value).replaceAll(',', '')) > 0
  const say = (effect: string) => effectWords({ effect: effect as Effect })
  const unloadedLive = live !== undefined && live !== 'keep'
  const unread = matrix.unread.has(column)
  const title = [
    `${matrix.rows[row]!.name} on ${matrix.columns[column]!.title}: ${unread ? 'unread' : words.long(value)}`,
    live && `live rule: ${say(live)}`,
    draft && `draft: ${say(draft)}`,
  ].filter(Boolean)
  return (
    <td
      id={cellId({ row, column })}
      role="gridcell"
      aria-selected={edge !== null}
      aria-label={title.join(', ')}
      title={title.join('\n')}
      className={clsx('p-px', groupEdge && 'border-l border-line', ruleAbove && 'border-t border-t-line')}
    >
      <div
        className={clsx(
          'relative flex h-[30px] w-[62px] min-w-[62px] items-center justify-end px-2',
          unloadedLive && 'hatched',
        )}
        style={(shown && shade(value, most)) || undefined}
      >
        {unloadedLive && shown && <span aria-hidden className="hatched absolute inset-0" />}
        {draft !== undefined && (
          <span aria-hidden className="absolute inset-[3px] border-[1.5px] border-dashed border-current" />
        )}
        {edge !== null && <span aria-hidden className="absolute -inset-px" style={{ boxShadow: edge }} />}
        <span className={clsx('relative', !shown && 'text-soft/60')}>
          {shown ? words.short(value) : unread ? '' : '·'}
        </span>
      </div>
    </td>
  )
})

/** A line around the selected rectangle, and a thin veil over what is in it; null outside it. */
export function edgeOf(bounds: Bounds, { row, column }: Corner): string | null {
  if (!within(bounds, row, column)) return null
  const { top, bottom, left, right } = bounds
  const line = (on: boolean, x: number, y: number) => (on ? [`inset ${x}px ${y}px 0 0 var(--verdigris)`] : [])
  return [
    ...line(row === top, 0, 2.5),
    ...line(row === bottom, 0, -2.5),
    ...line(column === left, 2.5, 0),
    ...line(column === right, -2.5, 0),
    'inset 0 0 0 99px color-mix(in srgb, var(--verdigris) 8%, transparent)',
  ].join(', ')
}
