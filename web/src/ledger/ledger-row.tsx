import clsx from 'clsx'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { memo } from 'react'
import { CellBox } from './cell-box.js'
import type { Spoken } from './in-sight.js'
import { nameOf } from './line-names.js'
import type { FigureWords } from './figure-words.js'
import { totalOf, type Line } from './lines.js'
import { CELL_HEIGHT, NAME_WIDTH, SIDE_WIDTH, TOTAL_WIDTH } from './measures.js'
import { within, type Bounds } from './selection.js'
import { isPageOwn } from './sheet.js'
import type { Weighed } from './weighing.js'

interface RowProps {
  weighed: Weighed
  words: FigureWords
  /** What the boxes say, which comes a little later. */
  spoken: Spoken
  line: Line
  row: number
  top: number
  /** Which of its cells have a box: those in sight, once a scroll rests. */
  boxes: readonly number[]
  /** Null where no cell of this row is selected. */
  bounds: Bounds | null
}

/** One row: its name and margin stay at the left while its cells, painted below it, go by. */
export const LedgerRow = memo(function LedgerRow({ weighed, words, spoken, line, row, top, boxes, bounds }: RowProps) {
  const own = line.type === 'payer' && isPageOwn(line.payer)
  const foldable = line.type === 'group' || (line.type === 'payer' && !own)
  const isOpen = line.type === 'group' ? !line.folded : line.type === 'payer' && line.opened
  const Fold = isOpen ? ChevronDown : ChevronRight
  const below = line.type === 'file' || line.type === 'feature' || line.type === 'wait'
  return (
    <div
      role="row"
      aria-rowindex={row + 3}
      className={clsx(
        'absolute left-0 w-full [contain:layout_size_style]',
        line.type === 'payer' && line.opens && 'border-t border-line',
      )}
      style={{ height: CELL_HEIGHT, top }}
    >
      <div
        className={clsx('sticky left-0 z-[5] flex h-full', below ? 'bg-sheet' : 'bg-paper')}
        style={{ width: SIDE_WIDTH }}
      >
        <div role="rowheader" aria-colindex={1} className="flex h-full min-w-0" style={{ width: NAME_WIDTH }}>
          {foldable ? (
            <button
              type="button"
              tabIndex={-1}
              data-fold={row}
              aria-label={`${isOpen ? 'Close' : 'Open'} ${nameOf(line)}`}
              aria-expanded={isOpen}
              className="flex w-6 shrink-0 items-center justify-end text-soft hover:text-verdigris"
            >
              <Fold size={13} aria-hidden />
            </button>
          ) : (
            <span className="w-6 shrink-0" />
          )}
          <button
            type="button"
            tabIndex={-1}
            data-name={row}
            title={titleOf(line)}
            className={clsx(
              'block min-w-0 flex-1 truncate pr-2 text-left outline-offset-[-2px] hover:text-verdigris',
              below ? 'pl-4 text-[13px]' : 'pl-1',
              line.type === 'group' && 'font-serif font-semibold',
              bounds ? 'font-semibold' : '',
              own && 'text-soft italic',
            )}
          >
            {nameOf(line)}
            {line.type === 'group' && <span className="font-sans font-normal text-soft"> ({line.payers.length})</span>}
            {line.type === 'feature' && <span className="text-soft"> · {line.feature.on ? 'on' : 'off'}</span>}
          </button>
        </div>
        <div
          role="gridcell"
          aria-colindex={2}
          className="flex items-center justify-end border-r border-line pr-3 font-semibold"
          style={{ width: TOTAL_WIDTH }}
        >
          {line.type === 'feature' ? (
            <span className="text-[12.5px] font-normal text-soft">
              {line.feature.told ? `${line.feature.usedOn.length} in use` : 'not known'}
            </span>
          ) : (
            line.type !== 'wait' && <Margin value={totalOf(weighed, line)} words={words} told={weighed.sums} />
          )}
        </div>
      </div>
      {boxes.map((at) => (
        <CellBox
          key={at}
          weighed={spoken.weighed}
          words={spoken.words}
          line={spoken.lines[row]!}
          column={spoken.columns[at]!}
          row={row}
          at={at}
          selected={bounds !== null && within(bounds, row, at)}
        />
      ))}
    </div>
  )
})

/** A margin: the figure as it is shown, and behind it the exact one. */
export function Margin({ value, words, told }: { value: number; words: FigureWords; told: boolean }) {
  if (!told) return <span className="font-normal text-soft">–</span>
  return <data value={value}>{words.short(value) || '0'}</data>
}

function titleOf(line: Line): string {
  if (line.type === 'file') return `${line.file.url}\n${line.file.type}, on ${line.file.pageIds.length} pages`
  if (line.type === 'feature') return `${line.feature.name}: switched ${line.feature.on ? 'on' : 'off'}`
  if (line.type === 'group') return `Select everything of ${line.name}`
  return `Select ${nameOf(line)} everywhere`
}
