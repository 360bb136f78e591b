import { MEASURES, VERDICTS, type Measure } from '@unvelt/contract'
import { BASES, type Basis } from './weighing.js'

export const GROUPINGS = ['none', 'kind', 'job', 'verdict'] as const
export type Grouping = (typeof GROUPINGS)[number]
export const USE_FILTERS = ['used', 'works unseen', 'planned', 'not seen', 'unknown'] as const

/** All that decides what the ledger shows. It lives in the address, so a view can be sent to somebody. */
export interface View {
  measure: Measure
  basis: Basis
  rows: Grouping
  /** `total`, `name`, or the number of the page to sort by. */
  sort: string
  text: string
  kind: string | null
  verdict: string | null
  use: string | null
  /** Rows whose total is below it are hidden. In the unit that the margin shows. */
  least: number
  hideRest: boolean
  /** Kinds of pages, and groups of rows, that are folded. */
  folded: ReadonlySet<string>
  opened: ReadonlySet<string>
  /** Seen as a whole, without figures. */
  far: boolean
}

const among = <T extends string>(list: readonly T[], value: string | null): T | null =>
  list.find((each) => each === value) ?? null
const setOf = (value: string | null) => new Set(value ? value.split(',').map(decodeURIComponent) : [])

export function viewOf(search: URLSearchParams): View {
  const sort = search.get('sort') ?? 'total'
  const least = Number(search.get('least') ?? 0)
  return {
    measure: among(MEASURES, search.get('measure')) ?? 'transferBytes',
    basis: among(BASES, search.get('basis')) ?? 'measured',
    rows: among(GROUPINGS, search.get('rows')) ?? 'none',
    sort: /^(total|name|\d{1,9})$/.test(sort) ? sort : 'total',
    text: (search.get('q') ?? '').slice(0, 200),
    kind: search.get('kind'),
    verdict: among(VERDICTS, search.get('verdict')),
    use: among(USE_FILTERS, search.get('use')),
    least: Number.isFinite(least) && least > 0 ? least : 0,
    hideRest: search.get('rest') === 'hide',
    folded: setOf(search.get('fold')),
    opened: setOf(search.get('open')),
    far: search.get('far') === 'yes',
  }
}

const NAMES: Record<keyof View, string> = {
  measure: 'measure',
  basis: 'basis',
  rows: 'rows',
  sort: 'sort',
  text: 'q',
  kind: 'kind',
  verdict: 'verdict',
  use: 'use',
  least: 'least',
  hideRest: 'rest',
  folded: 'fold',
  opened: 'open',
  far: 'far',
}
const STANDARD = viewOf(new URLSearchParams())

/** The address of a view, written over what else stands in it. What is as usual is left out. */
export function addressOf(change: Partial<View>, search: URLSearchParams): URLSearchParams {
  const next = new URLSearchParams(search)
  for (const [key, value] of Object.entries(change) as [keyof View, View[keyof View]][]) {
    const text = textOf(value)
    if (text === textOf(STANDARD[key])) next.delete(NAMES[key])
    else next.set(NAMES[key], key === 'far' ? 'yes' : text)
  }
  return next
}

const textOf = (value: View[keyof View]): string =>
  value instanceof Set
    ? [...value].map(encodeURIComponent).join(',')
    : value === true
      ? 'hide'
      : value === false || value === null
        ? ''
        : String(value)

/** Whether anything is hidden by a filter. */
export const isFiltered = ({ text, kind, verdict, use, least, hideRest }: View) =>
  text !== '' || kind !== null || verdict !== null || use !== null || least > 0 || hideRest

export const NO_FILTERS: Partial<View> = { text: '', kind: null, verdict: null, use: null, least: 0, hideRest: false }
