import { nameOf } from '../line-names.js'
import type { Column, Line } from '../lines.js'
import { boundsOf, type Selection } from '../selection.js'
import { namedRows } from './named-rows.js'
import type { FarWindow, Room } from './far-window.js'

export const KINDS_HEIGHT = 26
/** A kind's name is written where the kind is so wide. */
const LEAST_KIND = 34

/** Where each kind of page begins, and what it is called where there is room for it. */
export function Kinds({
  columns,
  window,
  width,
  room,
}: {
  columns: readonly Column[]
  window: FarWindow
  width: number
  room: Room
}) {
  const starts = columns.flatMap((column, n) => (column.opens ? [n] : []))
  return (
    <div
      aria-hidden
      className="absolute top-0 overflow-hidden text-[12.5px] text-soft"
      style={{ left: 'var(--names)', width: room.width, height: KINDS_HEIGHT }}
    >
      {starts.map((start, n) => {
        const end = starts[n + 1] ?? columns.length
        const left = (start - window.column) * width
        const right = (end - window.column) * width
        if (right < 0 || left > room.width) return null
        const shown = Math.max(0, left)
        return (
          <span
            key={columns[start]!.key}
            className="absolute top-0 h-full truncate border-l border-line pt-1 pl-1"
            style={{ left: shown, width: right - shown }}
          >
            {right - shown >= LEAST_KIND && columns[start]!.kind}
          </span>
        )
      })}
    </div>
  )
}

interface NamesProps {
  lines: readonly Line[]
  window: FarWindow
  height: number
  room: Room
  told: number | null
}

/** The names of the rows, where they are high enough; else of as many as can be read, of groups, and of the row that is looked at. */
export function Names({ lines, window, height, room, told }: NamesProps) {
  const inSight = { first: window.row, last: window.row + room.height / height }
  const isGroup = (row: number) => lines[row]?.type === 'group'
  return (
    <div
      aria-hidden
      className={`absolute left-0 overflow-hidden ${height < 12 ? 'text-[11px]' : 'text-[12.5px]'}`}
      style={{ top: KINDS_HEIGHT, width: 'var(--names)', height: room.height }}
    >
      {namedRows(lines.length, inSight, height, told, isGroup).map((row) => (
        <span
          key={row}
          className={`absolute right-2 left-4 truncate max-md:right-1 max-md:left-2 leading-none ${row === told || isGroup(row) ? 'font-semibold text-ink' : 'text-soft'}`}
          style={{ top: Math.max(0, (row + 0.5 - window.row) * height - 6) }}
        >
          {nameOf(lines[row]!)}
        </span>
      ))}
    </div>
  )
}

/** What is selected. */
export function Edge({ selection, window, cell }: { selection: Selection; window: FarWindow; cell: Room }) {
  const { top, bottom, left, right } = boundsOf(selection)
  return (
    <span
      aria-hidden
      className="pointer-events-none absolute outline-2 outline-verdigris"
      style={{
        left: (left - window.column) * cell.width,
        top: (top - window.row) * cell.height,
        width: Math.max(3, (right - left + 1) * cell.width),
        height: Math.max(3, (bottom - top + 1) * cell.height),
      }}
    />
  )
}
