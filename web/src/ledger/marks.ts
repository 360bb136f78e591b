import type { Effect } from '@unvelt/contract'
import { effectWords } from '../rules/words.js'
import type { FigureWords } from './figure-words.js'
import { nameOf } from './line-names.js'
import { valueAt, type Column, type Line } from './lines.js'
import type { Sheet, UseWord } from './sheet.js'
import type { Weighed } from './weighing.js'

/** What a cell shows beside its figure. */
export interface Marks {
  live: string | undefined
  draft: string | undefined
  use: UseWord
  /** Why there is no figure, where there is none. */
  lacking: ReturnType<Sheet['lacking']>
}

/** Why a column has no figure in the measure: none of its pages has one. */
export function lackingIn({ sheet, measure }: Weighed, { pages }: Column): Marks['lacking'] {
  const why = pages.map((page) => sheet.lacking(page, measure))
  return why.includes(null) ? null : (why.find((each) => each === 'not yet') ?? why[0] ?? null)
}

export function marksOf(weighed: Weighed, line: Line, column: Column): Marks {
  const { sheet } = weighed
  const single = column.folded ? null : column.pages[0]!
  const lacking = lackingIn(weighed, column)
  if (line.type === 'feature') {
    const used = column.pages.some((page) => line.feature.usedOn.includes(sheet.ledger.pages[page]!.id))
    return { live: undefined, draft: undefined, use: used ? 'used' : 'unknown', lacking }
  }
  if (single === null || line.type !== 'payer') return { live: undefined, draft: undefined, use: 'unknown', lacking }
  const payer = line.payers[0]
  return {
    live: sheet.liveOn(payer, single),
    draft: sheet.draftOn(payer, single),
    use: sheet.useOf(payer, single),
    lacking,
  }
}

/** All that a cell shows, in words: what is told on hover, and read out where it is selected. */
export function cellWords(weighed: Weighed, words: FigureWords, line: Line, column: Column): string[] {
  const { live, draft, use, lacking } = marksOf(weighed, line, column)
  const feature = line.type === 'feature'
  const what = feature
    ? use === 'used'
      ? 'in use'
      : line.feature.told
        ? 'not in use'
        : 'not known whether in use'
    : lacking
      ? lacking
      : weighed.told
        ? words.long(valueAt(weighed, line, column))
        : 'not told'
  return [
    `${nameOf(line)} on ${titleOf(weighed, column)}: ${what}`,
    ...(use === 'unknown' || feature ? [] : [use as string]),
    ...(live ? [`live rule: ${effectWords({ effect: live as Effect })}`] : []),
    ...(draft ? [`draft: ${effectWords({ effect: draft as Effect })}`] : []),
  ]
}

const titleOf = ({ sheet }: Weighed, { pages, folded, kind }: Column): string =>
  folded ? `every ${kind} (median of ${pages.length})` : sheet.ledger.pages[pages[0]!]!.title
