import { useVirtualizer } from '@tanstack/react-virtual'
import { useLayoutEffect, useState, type RefObject } from 'react'
import type { Sight } from './drawn-table.js'

const ROW_PX = 44
const AROUND = 20

/**
 * Which rows of a long table are drawn.
 * @param columns Their widths are found anew when these change.
 */
export function useRowsInSight(
  table: RefObject<HTMLTableElement | null>,
  count: number,
  columns: readonly unknown[],
): Sight {
  const [above, setAbove] = useState(0)
  const widths = useWidths(table, columns)
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer<HTMLElement, HTMLTableRowElement>({
    count,
    getScrollElement: () => (table.current ? scrollerOf(table.current) : null),
    estimateSize: () => ROW_PX,
    overscan: AROUND,
    scrollMargin: above,
  })
  // What stands above it may have come or gone; once nothing has, nothing is set.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  useLayoutEffect(() => {
    if (!table.current) return
    const scroller = scrollerOf(table.current)
    setAbove(Math.round(rowsTop(table.current) - scroller.getBoundingClientRect().top + scroller.scrollTop))
  })
  const items = virtual.getVirtualItems()
  const first = items[0]
  const last = items.at(-1)
  if (!first || !last) return { from: 0, to: AROUND, before: 0, after: 0, measure: undefined, widths }
  return {
    from: first.index,
    to: last.index + 1,
    before: first.start - above,
    after: virtual.getTotalSize() - (last.end - above),
    measure: virtual.measureElement,
    widths,
  }
}

/** Found again whenever the columns are others, or the room is. */
function useWidths(table: RefObject<HTMLTableElement | null>, columns: readonly unknown[]): readonly number[] | null {
  const [found, setFound] = useState<{ of: readonly unknown[]; widths: number[] } | null>(null)
  useLayoutEffect(() => {
    const room = table.current?.parentElement
    if (!room) return
    const watch = new ResizeObserver(() => {
      if (table.current) setFound({ of: columns, widths: widthsOf(table.current) })
    })
    watch.observe(room)
    return () => watch.disconnect()
  }, [table, columns])
  return found?.of === columns ? found.widths : null
}

/** As the table would lay its columns out by itself. */
function widthsOf(table: HTMLTableElement): number[] {
  const columns = table.querySelector('colgroup')
  table.style.tableLayout = 'auto'
  if (columns) columns.style.display = 'none'
  const widths = [...(table.tHead?.rows[0]?.cells ?? [])].map((head) => head.getBoundingClientRect().width)
  table.style.tableLayout = ''
  if (columns) columns.style.display = ''
  return widths
}

const rowsTop = (table: HTMLTableElement) => table.tBodies[0]!.getBoundingClientRect().top

function scrollerOf(element: HTMLElement): HTMLElement {
  for (let at = element.parentElement; at; at = at.parentElement)
    if (/auto|scroll/.test(getComputedStyle(at).overflowY)) return at
  return document.documentElement
}
