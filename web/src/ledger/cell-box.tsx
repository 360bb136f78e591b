import { memo } from 'react'
import { CELL_HEIGHT, CELL_WIDTH, SIDE_WIDTH } from './measures.js'
import type { FigureWords } from './figure-words.js'
import type { Column, Line } from './lines.js'
import { cellWords } from './marks.js'
import type { Corner } from './selection.js'
import type { Weighed } from './weighing.js'

export const cellId = ({ row, column }: Corner) => `cell-${row}-${column}`

interface CellBoxProps {
  weighed: Weighed
  words: FigureWords
  line: Line
  column: Column
  row: number
  at: number
  selected: boolean
}

/** What a screen reader, a hover and a test find where a cell is painted. It shows nothing itself. */
export const CellBox = memo(function CellBox({ weighed, words, line, column, row, at, selected }: CellBoxProps) {
  return (
    <div
      id={cellId({ row, column: at })}
      role="gridcell"
      aria-colindex={at + 3}
      aria-selected={selected}
      aria-label={cellWords(weighed, words, line, column).join(', ')}
      data-row={row}
      data-column={at}
      className="absolute top-0"
      style={{ left: SIDE_WIDTH + at * CELL_WIDTH, width: CELL_WIDTH, height: CELL_HEIGHT }}
    />
  )
})
