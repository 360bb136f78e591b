import type { LedgerPayer, Page, Place, RuleInput } from '@unvelt/contract'
import type { Column, Line } from './lines.js'
import { isAddOn, isFound, noFigures, type Figures, type Sheet } from './sheet.js'
import { MEASURES } from '@unvelt/contract'

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

/** What a selection is about: payers and pages, by index into the sheet, each once. */
export interface Picked {
  scope: Selection['scope']
  lines: Line[]
  columns: Column[]
  payers: number[]
  pages: number[]
}

export function picked(selection: Selection, lines: readonly Line[], columns: readonly Column[]): Picked {
  const { top, bottom, left, right } = boundsOf(selection)
  const some = lines.slice(top, bottom + 1)
  const across = columns.slice(left, right + 1)
  return {
    scope: selection.scope,
    lines: some,
    columns: across,
    payers: [...new Set(some.flatMap(({ payers }) => payers))],
    pages: [...new Set(across.flatMap(({ pages }) => pages))],
  }
}

/** The selected tolls summed, and the sum of the pages they are on. Rows that stand below an opened one count once. */
export function pickedFigures(sheet: Sheet, { payers, pages }: Picked): { tolls: Figures; pages: Figures } {
  const tolls = noFigures()
  const whole = noFigures()
  for (const measure of MEASURES) {
    const margins = sheet.margins(measure)
    for (const page of pages) {
      whole[measure] += margins.pages[page]!
      for (const payer of payers) tolls[measure] += sheet.value(payer, page, measure)
    }
  }
  return { tolls, pages: whole }
}

/** The rules that do one thing to all that is selected: one per add-on, each at the widest place that was meant. */
export function rulesFor(
  sheet: Sheet,
  { scope, payers, pages, columns }: Picked,
  effectFor: (addOn: LedgerPayer) => RuleInput['effect'],
  /** What is known by its folder or host only can be taken too: a site with a connector obeys rules on what it announced. */
  takesFound = false,
): RuleInput[] {
  const place = placeFor(
    scope,
    pages.map((page) => sheet.ledger.pages[page]!),
    columns,
  )
  return payers
    .map((payer) => sheet.ledger.payers[payer]!)
    .filter((payer) => isAddOn(payer) || (takesFound && isFound(payer)))
    .map((addOn) => ({ addon: addOn.slug, effect: effectFor(addOn), place }))
}

/** Nowhere but on what is selected: unloaded everywhere, kept there. */
export function onlyHereRules(
  sheet: Sheet,
  what: Picked,
  effectFor: (addOn: LedgerPayer) => RuleInput['effect'],
  takesFound = false,
): RuleInput[] {
  if (what.scope === 'rows') return []
  // A rule meant for visitors must not catch the back office, unless that is what was selected.
  const office = what.pages.some((page) => sheet.ledger.pages[page]!.area !== 'public')
  const broad: Place = office ? { level: 'everywhere' } : { level: 'area', area: 'public' }
  return [
    ...rulesFor(sheet, what, effectFor, takesFound).map((rule) => ({ ...rule, place: broad })),
    ...rulesFor(sheet, what, () => 'keep', takesFound),
  ]
}

function placeFor(scope: Selection['scope'], pages: Page[], columns: Column[]): Place {
  const [first] = pages
  if (scope === 'rows') return { level: 'everywhere' }
  const kinds = new Set(pages.map(({ kind }) => kind))
  if (first && kinds.size === 1 && (scope === 'kind' || columns.every(({ folded }) => folded)))
    return { level: 'kind', kind: first.kind }
  if (pages.length === 1 && first) return { level: 'page', path: first.path }
  return { level: 'set', paths: pages.map((page) => page.path) }
}

/** The one sign that parts of a selection are told apart by. */
const shielded = (key: string) => key.replace(/%/g, '%25').replace(/~/g, '%7E')

/** The selection as the address has it: its corners by what they stand on, so that it survives another sorting. */
export function selectionText({ scope, anchor, head }: Selection, lines: readonly Line[], columns: readonly Column[]) {
  const at = ({ row, column }: Corner) => [lines[row]?.key ?? '', columns[column]?.key ?? ''].map(shielded).join('~')
  return [scope, at(anchor), at(head)].join('~')
}

export function selectionOf(text: string | null, lines: readonly Line[], columns: readonly Column[]): Selection | null {
  const [scope, ...parts] = (text ?? '').split('~').map((part) => part.replace(/%(7E|25)/g, decodeURIComponent))
  if (!scope || !['cells', 'rows', 'columns', 'kind'].includes(scope)) return null
  const row = (key: string | undefined) => lines.findIndex((line) => line.key === key)
  const column = (key: string | undefined) => columns.findIndex((each) => each.key === key)
  const found = {
    anchor: { row: row(parts[0]), column: column(parts[1]) },
    head: { row: row(parts[2]), column: column(parts[3]) },
  }
  if ([found.anchor.row, found.anchor.column, found.head.row, found.head.column].some((n) => n < 0)) return null
  return { scope: scope as Selection['scope'], ...found }
}
