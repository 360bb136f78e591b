import type { AddOn, LedgerDetail, LedgerFeature, LedgerFile, LedgerPayer } from '@unvelt/contract'
import { isPageOwn, type Sheet } from './sheet.js'
import type { View } from './view-state.js'
import { lowerMedian, type Weighed } from './weighing.js'

/** One column as it is shown: a page, or all pages of a folded kind. */
export interface Column {
  key: string
  kind: string
  /** Indexes into the sheet's pages. */
  pages: number[]
  folded: boolean
  /** First of its kind. */
  opens: boolean
}

/** One row as it is shown. */
export type Line =
  | { type: 'group'; key: string; name: string; payers: number[]; folded: boolean }
  | { type: 'payer'; key: string; payer: LedgerPayer; payers: [number]; opened: boolean; opens: boolean }
  | { type: 'feature'; key: string; feature: LedgerFeature; of: LedgerPayer; payers: number[] }
  | { type: 'file'; key: string; file: LedgerFile; of: LedgerPayer; payers: number[] }
  | { type: 'wait'; key: string; of: LedgerPayer; payers: number[] }

/** Pages by kind, in the order in which the kinds first come; a folded kind is one column. */
export function columnsOf(sheet: Sheet, folded: ReadonlySet<string>): Column[] {
  const byKind = new Map<string, number[]>()
  sheet.ledger.pages.forEach(({ kind }, index) => {
    const list = byKind.get(kind)
    if (list) list.push(index)
    else byKind.set(kind, [index])
  })
  return [...byKind].flatMap(([kind, pages]): Column[] =>
    folded.has(kind)
      ? [{ key: `kind ${kind}`, kind, pages, folded: true, opens: true }]
      : pages.map((page, n) => ({
          key: `page ${sheet.ledger.pages[page]!.id}`,
          kind,
          pages: [page],
          folded: false,
          opens: n === 0,
        })),
  )
}

/** What a row shows in a column: the sum over its payers, and over a folded kind the median of its pages. */
export function valueAt(weighed: Weighed, line: Line, column: Column): number {
  if (line.type === 'feature' || line.type === 'wait') return 0
  const on = (page: number) =>
    line.type === 'file'
      ? fileValue(line.file, weighed, page)
      : line.payers.reduce((sum, payer) => sum + weighed.value(payer, page), 0)
  return column.pages.length === 1 && !column.folded
    ? on(column.pages[0]!)
    : lowerMedian(column.pages.filter((page) => !weighed.lacks(page)).map(on))
}

const filePages = new WeakMap<LedgerFile, Map<number, number>>()
function fileValue(file: LedgerFile, weighed: Weighed, page: number): number {
  let at = filePages.get(file)
  if (!at) filePages.set(file, (at = new Map(file.pageIds.map((id, index) => [id, index]))))
  const index = at.get(weighed.sheet.ledger.pages[page]!.id)
  return index === undefined ? 0 : (file.values[weighed.measure]?.[index] ?? 0) * weighed.factor(page)
}

/** A row's margin. */
export function totalOf(weighed: Weighed, line: Line): number {
  if (line.type === 'feature' || line.type === 'wait') return 0
  if (line.type !== 'file') return line.payers.reduce((sum, payer) => sum + weighed.payers[payer]!, 0)
  const sum = weighed.sheet.ledger.pages.reduce((all, _, page) => all + fileValue(line.file, weighed, page), 0)
  return weighed.basis === 'share' ? sum / (weighed.sheet.margins(weighed.measure).total || 1) : sum
}

/** A column's margin: the page's total, or the median of its pages. */
export const columnTotal = (weighed: Weighed, { pages, folded }: Column): number =>
  folded
    ? lowerMedian(pages.filter((page) => !weighed.lacks(page)).map((page) => weighed.pages[page]!))
    : weighed.pages[pages[0]!]!

export interface Known {
  addOns: ReadonlyMap<string, AddOn>
  details: ReadonlyMap<string, LedgerDetail>
}

/** The rows of a view: filtered, sorted, grouped, opened. What is no add-on stands last. */
export function linesOf(weighed: Weighed, view: View, known: Known): Line[] {
  const { payers } = weighed.sheet.ledger
  const shown = payers
    .map((_, index) => index)
    .filter((index) => passes(index, weighed, view, known))
    .sort(comparer(weighed, view))
  const own = shown.filter((index) => isPageOwn(payers[index]!))
  const addOns = shown.filter((index) => !isPageOwn(payers[index]!))
  return [
    ...grouped(addOns, weighed, view, known),
    ...own.flatMap((index, n) => open(index, weighed, view, known, n === 0)),
  ]
}

function grouped(indexes: number[], weighed: Weighed, view: View, known: Known): Line[] {
  const { payers } = weighed.sheet.ledger
  if (view.rows === 'none') return indexes.flatMap((index) => open(index, weighed, view, known, false))
  const groups = new Map<string, number[]>()
  for (const index of indexes)
    for (const name of groupsOf(payers[index]!, view, known)) {
      const list = groups.get(name)
      if (list) list.push(index)
      else groups.set(name, [index])
    }
  const sum = (list: number[]) => list.reduce((all, index) => all + weighed.payers[index]!, 0)
  // An add-on of two jobs stands in both groups, so a group is no part of a whole then; the margins say what is.
  return [...groups]
    .sort(([a, one], [b, two]) => Number(a === NO_JOB) - Number(b === NO_JOB) || sum(two) - sum(one))
    .flatMap(([name, list]): Line[] => {
      const folded = view.folded.has(`row:${name}`)
      return [
        { type: 'group', key: `group ${name}`, name, payers: list, folded },
        ...(folded ? [] : list.flatMap((index) => open(index, weighed, view, known, false, `${name} `))),
      ]
    })
}

const NO_JOB = 'no job named'

function groupsOf(payer: LedgerPayer, view: View, known: Known): string[] {
  const addOn = known.addOns.get(payer.slug)
  if (view.rows === 'kind') return [payer.kind]
  if (view.rows === 'verdict') return [addOn?.verdict.verdict ?? 'undecided']
  return addOn && addOn.jobs.length > 0 ? addOn.jobs : [NO_JOB]
}

function open(index: number, weighed: Weighed, view: View, known: Known, opens: boolean, prefix = ''): Line[] {
  const payer = weighed.sheet.ledger.payers[index]!
  const opened = view.opened.has(payer.slug)
  const line: Line = { type: 'payer', key: `${prefix}${payer.slug}`, payer, payers: [index], opened, opens }
  if (!opened) return [line]
  const detail = known.details.get(payer.slug)
  if (!detail) return [line, { type: 'wait', key: `${line.key} wait`, of: payer, payers: [index] }]
  const files = detail.files.map((file): Line & { type: 'file' } => ({
    type: 'file',
    key: `${line.key} ${file.url}`,
    file,
    of: payer,
    payers: [index],
  }))
  const totals = new Map(files.map((file) => [file, totalOf(weighed, file)]))
  return [
    line,
    ...[...detail.features]
      .sort((a, b) => b.usedOn.length - a.usedOn.length || a.name.localeCompare(b.name))
      .map((feature): Line => ({
        type: 'feature',
        key: `${line.key} #${feature.slug}`,
        feature,
        of: payer,
        payers: [index],
      })),
    ...files.sort((a, b) => totals.get(b)! - totals.get(a)!),
  ]
}

function passes(index: number, weighed: Weighed, view: View, known: Known): boolean {
  const { sheet } = weighed
  const payer = sheet.ledger.payers[index]!
  const addOn = known.addOns.get(payer.slug)
  const text = view.text.trim().toLowerCase()
  if (
    text !== '' &&
    ![
      payer.name,
      payer.slug,
      addOn?.author,
      addOn?.summary,
      ...(addOn?.jobs ?? []),
      ...(addOn?.outsideHosts ?? []),
    ].some((each) => each?.toLowerCase().includes(text))
  )
    return false
  if (view.kind !== null && payer.kind !== view.kind) return false
  if (view.verdict !== null && (isPageOwn(payer) || (addOn?.verdict.verdict ?? 'undecided') !== view.verdict))
    return false
  if (view.use !== null && (isPageOwn(payer) || !hasUse(sheet, index, view.use))) return false
  if (view.least > 0 && weighed.payers[index]! < view.least) return false
  if (view.hideRest && weighed.payers[index]! === 0) return false
  return true
}

/** A word about use holds for a row: seen, planned and unseen work anywhere; not seen and unknown on every page read. */
function hasUse(sheet: Sheet, payer: number, word: string): boolean {
  const pages = sheet.ledger.pages.map((_, index) => index).filter((index) => !sheet.unread.has(index))
  const is = (page: number) => sheet.useOf(payer, page) === word
  return word === 'not seen' || word === 'unknown' ? pages.every(is) : pages.some(is)
}

function comparer(weighed: Weighed, view: View): (a: number, b: number) => number {
  const { payers, pages } = weighed.sheet.ledger
  const byName = (a: number, b: number) => payers[a]!.name.localeCompare(payers[b]!.name)
  if (view.sort === 'name') return byName
  const page = pages.findIndex(({ id }) => String(id) === view.sort)
  const of = (index: number) => (page < 0 ? weighed.payers[index]! : weighed.value(index, page))
  return (a, b) => of(b) - of(a) || byName(a, b)
}
