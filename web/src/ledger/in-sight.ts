import type { Range, VirtualItem } from '@tanstack/react-virtual'
import { useCallback, useDeferredValue, useMemo, useState } from 'react'
import type { FigureWords } from './figure-words.js'
import type { Column, Line } from './lines.js'
import type { Weighed } from './weighing.js'

/**
 * What is in sight, and one more at each end. The head of a selection stays drawn, so that a screen reader always has the
 * cell that is spoken of.
 */
export function useRange(head: number | undefined) {
  return useCallback(
    ({ startIndex, endIndex, count }: Range) => {
      const from = Math.max(0, startIndex - 1)
      const to = Math.min(count - 1, endIndex + 1)
      const list = Array.from({ length: Math.max(0, to - from + 1) }, (_, n) => from + n)
      return head === undefined || head >= count || list.includes(head) ? list : [...list, head].sort((a, b) => a - b)
    },
    [head],
  )
}

/** The same list as before as long as it is about the same columns, so that rows are not drawn for nothing. */
export function useSteady(items: VirtualItem[]): VirtualItem[] {
  const [kept, keep] = useState(items)
  const same = kept.length === items.length && kept.every((item, n) => item.index === items[n]!.index)
  if (!same) keep(items)
  return same ? kept : items
}

interface Rested {
  rows: ReadonlySet<number>
  columns: readonly number[]
}

/** What was in sight when the last scroll came to rest: there the cells have boxes. */
export function useRested(moving: boolean, rows: VirtualItem[], across: VirtualItem[]): Rested {
  const [rested, rest] = useState<Rested>({ rows: new Set(), columns: [] })
  const same =
    rested.columns.length === across.length &&
    rested.rows.size === rows.length &&
    across.every(({ index }, n) => rested.columns[n] === index) &&
    rows.every(({ index }) => rested.rows.has(index))
  if (!moving && !same)
    rest({ rows: new Set(rows.map(({ index }) => index)), columns: across.map(({ index }) => index) })
  return rested
}

export const NONE: readonly number[] = []

/** The cells of a row that have a box: what was in sight at rest, and always the head of the selection. */
export function boxesOf(row: number, { rows, columns }: Rested, head: readonly number[]): readonly number[] {
  if (!rows.has(row)) return head
  return head.length === 0 || columns.includes(head[0]!) ? columns : [...columns, head[0]!]
}

/** What the cells' boxes speak of. */
export interface Spoken {
  weighed: Weighed
  words: FigureWords
  lines: readonly Line[]
  columns: readonly Column[]
}

/** The figures as they are spoken: a frame behind those that are painted, since hundreds of sentences are written for them. */
export function useSpoken({ weighed, words, lines, columns }: Spoken): Spoken {
  const now = useMemo(() => ({ weighed, words, lines, columns }), [weighed, words, lines, columns])
  const late = useDeferredValue(now)
  // Where rows or columns come or go, or belong to another sheet, the place of a box means another cell at once.
  const same =
    late.weighed.sheet === weighed.sheet && late.lines.length === lines.length && late.columns.length === columns.length
  return same ? late : now
}
