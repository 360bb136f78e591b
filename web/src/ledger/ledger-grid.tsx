import { useVirtualizer } from '@tanstack/react-virtual'
import { useLayoutEffect, useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { MEASURE_WORDS } from '../figures/format.js'
import { cellId } from './cell-box.js'
import { cellNear, isOnCells, pointIn, useDrag, windowOf } from './drag.js'
import type { FigureWords } from './figure-words.js'
import { boxesOf, NONE, useRange, useRested, useSpoken, useSteady } from './in-sight.js'
import { LedgerFoot, LedgerHead } from './ledger-head.js'
import { LedgerRow } from './ledger-row.js'
import type { Column, Line } from './lines.js'
import { cellWords } from './marks.js'
import { CELL_HEIGHT, CELL_WIDTH, FOOT_HEIGHT, HEAD_HEIGHT, SIDE_WIDTH } from './measures.js'
import { PaintedCells } from './paint/painted-cells.js'
import { SelectedEdge } from './selected-edge.js'
import { boundsOf, type Corner, type Selection } from './selection.js'
import type { Weighed } from './weighing.js'

interface GridProps {
  weighed: Weighed
  words: FigureWords
  lines: readonly Line[]
  columns: readonly Column[]
  sort: string
  selection: Selection | null
  onSelect(selection: Selection | null): void
  onFoldLine(line: Line): void
  onFoldKind(kind: string): void
  onSort(sort: string): void
  /** Any other key. Returns whether it meant something. */
  onKey(key: string): boolean
}

const NO_SPAN = { first: 0, last: -1 }

/** The matrix: add-ons down, pages across, margins at the left and below. Only what is in sight is drawn. */
export function LedgerGrid(props: GridProps) {
  const { weighed, words, lines, columns, selection, onSelect } = props
  const scroller = useRef<HTMLDivElement>(null)
  const bounds = useMemo(() => selection && boundsOf(selection), [selection])
  const rowRange = useRange(selection?.head.row)
  const columnRange = useRange(selection?.head.column)
  // eslint-disable-next-line react-hooks/incompatible-library
  const down = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => CELL_HEIGHT,
    overscan: 0,
    paddingStart: HEAD_HEIGHT,
    paddingEnd: FOOT_HEIGHT,
    scrollPaddingStart: HEAD_HEIGHT,
    scrollPaddingEnd: FOOT_HEIGHT,
    rangeExtractor: rowRange,
  })
  const along = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => CELL_WIDTH,
    overscan: 0,
    scrollPaddingStart: SIDE_WIDTH,
    rangeExtractor: columnRange,
  })
  const across = useSteady(along.getVirtualItems())
  const rowsShown = down.getVirtualItems().filter(({ index }) => index < lines.length)
  const rested = useRested(down.isScrolling || along.isScrolling, rowsShown, across)
  const spoken = useSpoken({ weighed, words, lines, columns })
  const headColumn = selection?.head.column
  const head = useMemo(() => (headColumn === undefined ? NONE : [headColumn]), [headColumn])
  const width = SIDE_WIDTH + columns.length * CELL_WIDTH + 8

  useLayoutEffect(() => {
    down.measure()
    along.measure()
  }, [down, along, lines.length, columns.length])

  const selectCell = (at: Corner, extend: boolean) =>
    onSelect({ scope: 'cells', anchor: extend && selection ? selection.anchor : at, head: at })
  const last = { row: lines.length - 1, column: columns.length - 1 }
  const drag = useDrag(scroller, last, (at) => {
    if (selection?.head.row !== at.row || selection.head.column !== at.column) selectCell(at, true)
  })
  const selectRow = (row: number, extend: boolean) =>
    onSelect({
      scope: 'rows',
      anchor: { row: extend && selection ? selection.anchor.row : row, column: 0 },
      head: { row, column: last.column },
    })
  const selectColumns = (from: number, to: number, scope: 'columns' | 'kind', extend = false) =>
    onSelect({
      scope,
      anchor: { row: 0, column: extend && selection ? selection.anchor.column : from },
      head: { row: last.row, column: to },
    })
  const selectKind = (at: number) => {
    const { kind } = columns[at]!
    selectColumns(
      columns.findIndex((column) => column.kind === kind),
      columns.findLastIndex((column) => column.kind === kind),
      'kind',
    )
  }

  const move = (event: KeyboardEvent, step: [number, number]) => {
    const from = selection?.head ?? { row: 0, column: 0 }
    const far = event.ctrlKey || event.metaKey ? 1e6 : 1
    const clamp = (value: number, most: number) => Math.max(0, Math.min(most, value))
    const head = selection
      ? { row: clamp(from.row + step[0] * far, last.row), column: clamp(from.column + step[1] * far, last.column) }
      : from
    selectCell(head, event.shiftKey)
    reveal(head)
  }
  const reveal = ({ row, column }: Corner) => {
    down.scrollToIndex(row, { align: 'auto' })
    // The library reckons from the left edge, where the names stand; what lies below them has to come out.
    const element = scroller.current!
    const left = column * CELL_WIDTH
    const room = element.clientWidth - SIDE_WIDTH - CELL_WIDTH
    if (left < element.scrollLeft) element.scrollLeft = left
    else if (left > element.scrollLeft + room) element.scrollLeft = left - room
  }

  const onKeyDown = (event: KeyboardEvent) => {
    if (lines.length === 0) return
    const screen = Math.max(
      1,
      Math.floor(((scroller.current?.clientHeight ?? 0) - HEAD_HEIGHT - FOOT_HEIGHT) / CELL_HEIGHT),
    )
    const step = stepOf(event.key, screen, last, selection?.head ?? { row: 0, column: 0 })
    const head = selection?.head
    if (step) move(event, step)
    else if (event.key === 'Escape') onSelect(null)
    else if (event.ctrlKey || event.metaKey || event.altKey) {
      if (event.key.toLowerCase() !== 'c' || event.altKey || !props.onKey('copy')) return
    } else if (head && (event.key === 'Enter' || event.key === ' ')) props.onFoldLine(lines[head.row]!)
    else if (head && event.key === 'r') selectRow(head.row, false)
    else if (head && event.key === 'p') selectColumns(head.column, head.column, 'columns')
    else if (head && event.key === 'g') selectKind(head.column)
    else if (head && event.key === 'f') props.onFoldKind(columns[head.column]!.kind)
    else if (head && event.key === 's') props.onSort(sortKey(weighed, columns[head.column]!))
    else if (!props.onKey(event.key)) return
    event.preventDefault()
  }

  /** By place, since a cell that was painted a moment ago has no box yet. */
  const cellAt = (event: PointerEvent): Corner | null => {
    const [point, window] = [pointIn(scroller.current!, event), windowOf(scroller.current!)]
    if (!isOnCells(point, window)) return null
    // Beside the last row or column nothing is meant.
    const at = cellNear(point, window, { row: lines.length, column: columns.length })
    return lines[at.row] && columns[at.column] ? at : null
  }
  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0) return
    const cell = cellAt(event)
    if (cell) {
      selectCell(cell, event.shiftKey)
      drag.begin(event)
      return
    }
    const target = (event.target as Element).closest<HTMLElement>(
      '[data-name], [data-fold], [data-head], [data-kind], [data-kind-name], [data-sort]',
    )
    if (!target) return
    const { name, fold, head, kind, kindName, sort } = target.dataset
    if (name !== undefined) selectRow(Number(name), event.shiftKey)
    else if (fold !== undefined) props.onFoldLine(lines[Number(fold)]!)
    else if (kind !== undefined) props.onFoldKind(columns[Number(kind)]!.kind)
    else if (kindName !== undefined) selectKind(Number(kindName))
    else if (sort !== undefined) props.onSort(sort)
    else if (columns[Number(head)]!.folded) selectKind(Number(head))
    else selectColumns(Number(head), Number(head), 'columns', event.shiftKey)
  }
  const onPointerOver = (event: PointerEvent) => {
    const at = cellAt(event)
    const box = (event.target as Element).closest<HTMLElement>('[data-row]')
    // Half a million sentences are not written before somebody asks for one.
    if (at && box) box.title = cellWords(weighed, words, lines[at.row]!, columns[at.column]!).join('\n')
  }

  return (
    <div
      ref={scroller}
      role="grid"
      aria-label={`Ledger, ${MEASURE_WORDS[weighed.measure].name}`}
      aria-multiselectable
      aria-rowcount={lines.length + 3}
      aria-colcount={columns.length + 2}
      aria-activedescendant={selection ? cellId(selection.head) : undefined}
      tabIndex={0}
      onKeyDown={onKeyDown}
      onPointerDown={onPointerDown}
      onPointerMove={drag.move}
      onPointerUp={drag.stop}
      onPointerCancel={drag.stop}
      onPointerOver={onPointerOver}
      className="figures relative h-full overflow-auto bg-paper [will-change:scroll-position] outline-none select-none focus-visible:outline-none"
    >
      <div className="relative flex flex-col" style={{ width, minWidth: '100%', minHeight: '100%' }}>
        <div className="relative shrink-0" style={{ height: down.getTotalSize() - FOOT_HEIGHT }}>
          <LedgerHead
            weighed={weighed}
            words={words}
            columns={columns}
            across={across}
            bounds={bounds}
            sort={props.sort}
            measureName={MEASURE_WORDS[weighed.measure].name}
          />
          <div aria-hidden className="absolute" style={{ top: HEAD_HEIGHT, left: SIDE_WIDTH }}>
            <PaintedCells
              weighed={weighed}
              words={words}
              lines={lines}
              columns={columns}
              rows={down.range ? { first: down.range.startIndex, last: down.range.endIndex } : NO_SPAN}
              across={along.range ? { first: along.range.startIndex, last: along.range.endIndex } : NO_SPAN}
            />
            {bounds && <SelectedEdge bounds={bounds} />}
          </div>
          <div role="rowgroup" className="absolute top-0 left-0 w-full">
            {rowsShown.map(({ index, start }) => (
              <LedgerRow
                key={index}
                weighed={weighed}
                words={words}
                spoken={spoken}
                line={lines[index]!}
                row={index}
                top={start}
                boxes={boxesOf(index, rested, index === selection?.head.row ? head : NONE)}
                bounds={bounds && index >= bounds.top && index <= bounds.bottom ? bounds : null}
              />
            ))}
          </div>
        </div>
        <div className="flex-1" />
        <LedgerFoot weighed={weighed} words={words} columns={columns} across={across} rowIndex={lines.length + 3} />
      </div>
    </div>
  )
}

function stepOf(key: string, screen: number, last: Corner, at: Corner): [number, number] | null {
  const steps: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    PageUp: [-screen, 0],
    PageDown: [screen, 0],
    Home: [0, -at.column],
    End: [0, last.column - at.column],
  }
  return steps[key] ?? null
}

const sortKey = (weighed: Weighed, column: Column) =>
  column.folded ? 'total' : String(weighed.sheet.ledger.pages[column.pages[0]!]!.id)
