import { nameOf } from '../line-names.js'
import type { Column, Line } from '../lines.js'
import { boundsOf, type Selection } from '../selection.js'
import type { FarWindow, Room } from './far-window.js'

export const NAMES_WIDTH = 168
export const KINDS_HEIGHT = 26
/** Names are written where their row is so high, and a kind where it is so wide. */
const LEAST_NAMED = 9.5
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
      style={{ left: NAMES_WIDTH, width: room.width, height: KINDS_HEIGHT }}
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

/** The names of the rows, where they are high enough; else of groups and of the row that is looked at. */
export function Names({ lines, window, height, room, told }: NamesProps) {
  const first = Math.floor(window.row)
  const last = Math.min(lines.length - 1, Math.ceil(window.row + room.height / height))
  const inSight = Array.from({ length: Math.max(0, last - first + 1) }, (_, n) => first + n)
  const named = inSight.filter((row) => height >= LEAST_NAMED || row === told || lines[row]?.type === 'group')
  return (
    <div
      aria-hidden
      className={`absolute left-0 overflow-hidden ${height < 12 ? 'text-[11px]' : 'text-[12.5px]'}`}
      style={{ top: KINDS_HEIGHT, width: NAMES_WIDTH, height: room.height }}
    >
      {named.map((row) => {
        const line = lines[row]
        if (!line) return null
        return (
          <span
            key={row}
            className={`absolute right-2 left-4 truncate leading-none ${row === told || line.type === 'group' ? 'font-semibold' : 'text-soft'}`}
            style={{ top: (row + 0.5 - window.row) * height - 6 }}
          >
            {nameOf(line)}
          </span>
        )
      })}
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
