import { columnTotal, totalOf, valueAt, type Column, type Line } from './lines.js'
import { nameOf } from './line-names.js'
import type { Weighed } from './weighing.js'

/** The selected rectangle as tab-separated lines with its names, exact figures, and no formula a spreadsheet would run. */
export function tableText(weighed: Weighed, lines: readonly Line[], columns: readonly Column[]): string {
  const { pages } = weighed.sheet.ledger
  const head = columns.map(({ folded, kind, pages: of }) => (folded ? `${kind} (median)` : pages[of[0]!]!.title))
  return [
    ['Add-on', ...head, 'Total on all pages'],
    ...lines
      .filter(({ type }) => type !== 'feature' && type !== 'wait')
      .map((line) => [
        nameOf(line),
        ...columns.map((column) => valueAt(weighed, line, column)),
        totalOf(weighed, line),
      ]),
    ['Page', ...columns.map((column) => columnTotal(weighed, column)), weighed.total],
  ]
    .map((row) => row.map((cell) => (typeof cell === 'number' ? cell : harmless(cell))).join('\t'))
    .join('\n')
}

/** A cell that begins like a formula is one for a spreadsheet. */
export const harmless = (text: string) => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text).replace(/[\t\r\n]+/g, ' ')
