import clsx from 'clsx'
import { memo, useMemo } from 'react'
import { ChevronDown, ChevronRight } from 'lucide-react'
import type { VirtualItem } from '@tanstack/react-virtual'
import type { Page } from '@unvelt/contract'
import type { FigureWords } from './figure-words.js'
import { columnTotal, type Column } from './lines.js'
import { Margin } from './ledger-row.js'
import { lackingIn } from './marks.js'
import { CELL_WIDTH, FOOT_HEIGHT, HEAD_HEIGHT, NAME_WIDTH, SIDE_WIDTH, TOTAL_WIDTH } from './measures.js'
import type { Bounds } from './selection.js'
import type { Weighed } from './weighing.js'

interface AcrossProps {
  weighed: Weighed
  words: FigureWords
  columns: readonly Column[]
  across: VirtualItem[]
}

interface HeadProps extends AcrossProps {
  bounds: Bounds | null
  sort: string
  measureName: string
}

/** Kinds and pages across the top. */
export const LedgerHead = memo(function LedgerHead({
  weighed,
  words,
  columns,
  across,
  bounds,
  sort,
  measureName,
}: HeadProps) {
  const { pages } = weighed.sheet.ledger
  const kinds = useMemo(() => kindSpans(columns), [columns])
  const [first, last] = [across[0]?.index ?? 0, across.at(-1)?.index ?? -1]
  return (
    <div className="sticky top-0 z-10 border-b border-line bg-paper" style={{ height: HEAD_HEIGHT }}>
      <div role="row" aria-rowindex={1} className="h-[26px] text-[12.5px] text-soft">
        <div className="sticky left-0 z-10 h-full bg-paper" style={{ width: SIDE_WIDTH }} />
        {kinds
          .filter(({ from, to }) => to >= first && from <= last)
          .map(({ kind, from, to, folded, count }) => {
            const Fold = folded ? ChevronRight : ChevronDown
            return (
              <div
                key={kind}
                role="columnheader"
                aria-colindex={from + 3}
                aria-colspan={to - from + 1}
                className="absolute top-0 h-[26px] border-l border-line"
                style={{ left: SIDE_WIDTH + from * CELL_WIDTH, width: (to - from + 1) * CELL_WIDTH }}
              >
                <div className="sticky flex h-full w-fit max-w-full" style={{ left: SIDE_WIDTH }}>
                  <button
                    type="button"
                    tabIndex={-1}
                    data-kind={from}
                    aria-expanded={!folded}
                    aria-label={`${folded ? 'Open' : 'Fold'} ${kind}`}
                    title={folded ? `Show the ${count} pages of kind ${kind}` : `Fold ${kind} into one column`}
                    className="flex shrink-0 items-center pl-1 hover:text-verdigris"
                  >
                    <Fold size={12} aria-hidden />
                  </button>
                  {!folded && (
                    <button
                      type="button"
                      tabIndex={-1}
                      data-kind-name={from}
                      className="min-w-0 truncate px-0.5 text-left hover:text-verdigris"
                      title={`Select every page of kind ${kind}`}
                    >
                      {kind} ({count})
                    </button>
                  )}
                </div>
              </div>
            )
          })}
      </div>
      <div role="row" aria-rowindex={2} className="relative h-[131px]">
        <div className="sticky left-0 z-10 flex h-full items-end bg-paper pb-1.5" style={{ width: SIDE_WIDTH }}>
          <div
            role="columnheader"
            aria-colindex={1}
            aria-sort={sort === 'name' ? 'ascending' : 'none'}
            style={{ width: NAME_WIDTH }}
          >
            <button
              type="button"
              tabIndex={-1}
              data-sort="name"
              title="Sort by name"
              className="w-full pl-7 text-left leading-tight text-soft hover:text-verdigris"
            >
              {measureName},<br />
              {words.unit}
            </button>
          </div>
          <div
            role="columnheader"
            aria-colindex={2}
            aria-sort={sort === 'total' ? 'descending' : 'none'}
            className="h-full"
            style={{ width: TOTAL_WIDTH }}
          >
            <button
              type="button"
              tabIndex={-1}
              data-sort="total"
              title="Sort by total"
              className="h-full w-full border-r border-line pr-3 text-right align-bottom font-semibold hover:text-verdigris"
            >
              <span className="flex h-full flex-col justify-end">Total{sort === 'total' && ' ↓'}</span>
            </button>
          </div>
        </div>
        {across.map(({ index }) => (
          <PageHead
            key={columns[index]!.key}
            column={columns[index]!}
            page={pages[columns[index]!.pages[0]!]!}
            index={index}
            sorted={!columns[index]!.folded && sort === String(pages[columns[index]!.pages[0]!]!.id)}
            selected={bounds !== null && index >= bounds.left && index <= bounds.right}
          />
        ))}
      </div>
    </div>
  )
})

interface PageHeadProps {
  column: Column
  page: Page
  index: number
  sorted: boolean
  selected: boolean
}

/** The name of a page, or of a folded kind. */
const PageHead = memo(function PageHead({ column, page, index, sorted, selected }: PageHeadProps) {
  const name = column.folded ? `${column.kind}, median of ${column.pages.length}` : page.title
  return (
    <div
      role="columnheader"
      aria-colindex={index + 3}
      aria-sort={sorted ? 'descending' : 'none'}
      className={clsx('absolute bottom-0 h-full', column.opens && 'border-l border-line')}
      style={{ left: SIDE_WIDTH + index * CELL_WIDTH, width: CELL_WIDTH }}
    >
      <button
        type="button"
        tabIndex={-1}
        data-head={index}
        title={column.folded ? `Select every page of kind ${column.kind}` : `${page.title} · ${page.path}`}
        className={clsx(
          'mx-auto flex h-full w-full items-end justify-center overflow-hidden pb-1.5 text-left hover:text-verdigris',
          selected && 'font-semibold',
          column.folded && 'text-soft italic',
        )}
      >
        <span className="rotate-180 truncate [writing-mode:vertical-rl]" style={{ maxHeight: 122 }}>
          {sorted && '↓ '}
          {name}
        </span>
      </button>
    </div>
  )
})

interface KindSpan {
  kind: string
  from: number
  to: number
  folded: boolean
  count: number
}

/** The kinds, each over all of its columns. */
function kindSpans(columns: readonly Column[]): KindSpan[] {
  const spans: KindSpan[] = []
  columns.forEach(({ kind, folded, pages }, index) => {
    const last = spans.at(-1)
    if (last?.kind === kind) {
      last.to = index
      last.count += pages.length
    } else spans.push({ kind, from: index, to: index, folded, count: pages.length })
  })
  return spans
}

interface FootProps extends AcrossProps {
  rowIndex: number
}

/** What each page costs in all, and what all of them do. */
export const LedgerFoot = memo(function LedgerFoot({ weighed, words, columns, across, rowIndex }: FootProps) {
  return (
    <div
      role="row"
      aria-rowindex={rowIndex}
      className="sticky bottom-0 z-10 border-t border-ink/50 bg-paper font-semibold"
      style={{ height: FOOT_HEIGHT }}
    >
      <div className="sticky left-0 z-10 flex h-full items-center bg-paper" style={{ width: SIDE_WIDTH }}>
        <div role="rowheader" aria-colindex={1} className="pl-7" style={{ width: NAME_WIDTH }}>
          Page
        </div>
        <div
          role="gridcell"
          aria-colindex={2}
          className="flex h-full items-center justify-end border-r border-line pr-3"
          style={{ width: TOTAL_WIDTH }}
        >
          <Margin value={weighed.total} words={words} told={weighed.sums} />
        </div>
      </div>
      {across.map(({ index }) => (
        <PageFoot key={columns[index]!.key} weighed={weighed} words={words} column={columns[index]!} index={index} />
      ))}
    </div>
  )
})

interface PageFootProps {
  weighed: Weighed
  words: FigureWords
  column: Column
  index: number
}

const PageFoot = memo(function PageFoot({ weighed, words, column, index }: PageFootProps) {
  const lacking = lackingIn(weighed, column)
  return (
    <div
      role="gridcell"
      aria-colindex={index + 3}
      className={clsx(
        'absolute top-0 flex h-full items-center justify-end px-2',
        column.opens && 'border-l border-line',
      )}
      style={{ left: SIDE_WIDTH + index * CELL_WIDTH, width: CELL_WIDTH }}
    >
      {lacking ? (
        <span className="text-[12.5px] font-normal whitespace-nowrap text-soft">{lacking}</span>
      ) : (
        <Margin value={columnTotal(weighed, column)} words={words} told={weighed.sums} />
      )}
    </div>
  )
})
