import clsx from 'clsx'
import type { Effect } from '@unvelt/contract'
import { effectWords } from '../rules/words.js'
import type { FigureWords } from './figure-words.js'
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

/** One toll: shade and figure, what is known of use, and what rules do there. */
export function Cell({ weighed, words, line, column, row, at, left, edge }: CellProps) {
  const { sheet } = weighed
  const value = valueAt(weighed, line, column)
  const figure = words.short(value)
  // What the cell would print as nothing is nothing to look at; the figure itself is told on hover.
  const shown = figure !== '' && Number(figure.replaceAll(',', '')) > 0
  const single = column.folded ? null : column.pages[0]!
  const payer = line.type === 'payer' ? line.payers[0] : null
  const marked = single !== null && payer !== null
  const live = marked ? sheet.liveOn(payer, single) : undefined
  const draft = marked ? sheet.draftOn(payer, single) : undefined
  const unloaded = live !== undefined && live !== 'keep'
  const unread = column.pages.every((page) => sheet.unread.has(page))
  const use = marked ? sheet.useOf(payer, single) : 'unknown'
  const used =
    line.type === 'feature' && column.pages.some((page) => line.feature.usedOn.includes(sheet.ledger.pages[page]!.id))
  const title = [
    `${nameOf(line)} on ${titleOf(weighed, column)}: ${line.type === 'feature' ? (used ? 'in use' : 'not in use') : unread ? 'unread' : words.long(value)}`,
    use !== 'unknown' && use,
    live && `live rule: ${effectWords({ effect: live as Effect })}`,
    draft && `draft: ${effectWords({ effect: draft as Effect })}`,
  ].filter(Boolean)
  return (
    <div
      id={cellId({ row, column: at })}
      role="gridcell"
      aria-colindex={at + 3}
      aria-selected={edge !== null}
      aria-label={title.join(', ')}
      title={title.join('\n')}
      data-row={row}
      data-column={at}
      className={clsx('absolute top-0 p-px', column.opens && 'border-l border-line')}
      style={{ left, width: CELL_WIDTH, height: CELL_HEIGHT }}
    >
      <div
        className={clsx('relative flex h-full w-full items-center justify-end px-2', unloaded && !shown && 'hatched')}
        style={(shown && shade(value, weighed.most)) || undefined}
      >
        {unloaded && shown && <span aria-hidden className="hatched absolute inset-0" />}
        {draft !== undefined && (
          <span aria-hidden className="absolute inset-[3px] border-[1.5px] border-dashed border-current" />
        )}
        {edge !== null && <span aria-hidden className="absolute -inset-px" style={{ boxShadow: edge }} />}
        {(use !== 'unknown' || used) && <UseMark word={used ? 'used' : use} />}
        <span className={clsx('relative', !shown && 'text-soft/60')}>
          {shown ? figure : unread || line.type === 'feature' ? '' : '·'}
        </span>
      </div>
    </div>
  )
}

export const nameOf = (line: Line): string => {
  switch (line.type) {
    case 'group':
      return line.name
    case 'payer':
      return line.payer.name
    case 'feature':
      return line.feature.name
    case 'file':
      return fileName(line.file.url)
    case 'wait':
      return 'Fetching files …'
  }
}

/** The last part of an address, which is what people know a file by; the host where there is none. */
export function fileName(url: string): string {
  if (!URL.canParse(url)) return url
  const { pathname, host } = new URL(url)
  return pathname.split('/').filter(Boolean).at(-1) ?? host
}

const titleOf = ({ sheet }: Weighed, { pages, folded, kind }: Column): string =>
  folded ? `every ${kind} (median of ${pages.length})` : sheet.ledger.pages[pages[0]!]!.title

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
