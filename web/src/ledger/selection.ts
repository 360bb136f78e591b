import type { LedgerPayer, Page, Place, RuleInput } from '@unvelt/contract'
import { isAddOn } from './matrix.js'

/** A rectangle of cells, given by two corners, or whole rows, columns or a kind of page. */
export interface Selection {
  /** What was picked decides where a rule will hold: a whole row means everywhere, later pages too. */
  scope: 'cells' | 'rows' | 'columns' | 'kind'
  anchor: Corner
  head: Corner
}

export interface Corner {
  row: number
  column: number
}

export interface Bounds {
  top: number
  bottom: number
  left: number
  right: number
}

export function boundsOf({ anchor, head }: Selection): Bounds {
  return {
    top: Math.min(anchor.row, head.row),
    bottom: Math.max(anchor.row, head.row),
    left: Math.min(anchor.column, head.column),
    right: Math.max(anchor.column, head.column),
  }
}

export const within = ({ top, bottom, left, right }: Bounds, row: number, column: number) =>
  row >= top && row <= bottom && column >= left && column <= right

/** The rules that do one thing to all that is selected: one per add-on, each at the widest place that was meant. */
export function rulesFor(
  selection: Selection,
  rows: LedgerPayer[],
  columns: Page[],
  effectFor: (addOn: LedgerPayer) => RuleInput['effect'],
): RuleInput[] {
  const { top, bottom, left, right } = boundsOf(selection)
  const place = placeFor(selection.scope, columns.slice(left, right + 1))
  return rows
    .slice(top, bottom + 1)
    .filter(isAddOn)
    .map((addOn) => ({ addon: addOn.slug, effect: effectFor(addOn), place }))
}

function placeFor(scope: Selection['scope'], pages: Page[]): Place {
  const [first] = pages
  if (scope === 'rows') return { level: 'everywhere' }
  if (scope === 'kind' && first) return { level: 'kind', kind: first.kind }
  if (pages.length === 1 && first) return { level: 'page', path: first.path }
  return { level: 'set', paths: pages.map((page) => page.path) }
}
