import { MEASURES, type AddOn, type Measure } from '@unvelt/contract'
import { noFigures, type Figures, type Sheet } from '../ledger/sheet.js'

/** An add-on with what a sweep found of it. */
export interface Row extends AddOn {
  site: number
  /** Pages that it costs something. */
  pages: number
  /** Pages where it was seen in use. */
  used: number
  /** Word → on how many of the read pages it holds. */
  use: Map<string, number>
  figures: Figures
  /** Whether the site tells anything of a measure. */
  tells(measure: Measure): boolean
}

export function rowsOf(site: number, addOns: readonly AddOn[], sheet: Sheet | null): Row[] {
  const at = new Map(sheet?.ledger.payers.map((payer, index) => [payer.slug, index]))
  return addOns.map((addOn) => {
    const payer = at.get(addOn.slug)
    const use = new Map<string, number>()
    const figures = noFigures()
    if (sheet && payer !== undefined) {
      sheet.ledger.pages.forEach((_, page) => {
        if (sheet.unread.has(page)) return
        const word = sheet.useOf(payer, page)
        use.set(word, (use.get(word) ?? 0) + 1)
      })
      for (const measure of MEASURES) figures[measure] = sheet.margins(measure).payers[payer]!
    }
    return {
      ...addOn,
      site,
      pages: sheet && payer !== undefined ? sheet.pagesOf(payer) : 0,
      used: (use.get('used') ?? 0) + (payer === undefined ? 0 : (sheet?.ledger.usedElsewhere[payer] ?? 0)),
      use,
      figures,
      tells: (measure) => sheet === null || sheet.tells(measure),
    }
  })
}

/** What is known of an add-on's use over the site, in a sentence without guesses. */
export function sentenceOfUse({ pages, used, use }: Pick<Row, 'pages' | 'used' | 'use'>): string {
  const on = (n: number) => `${n} ${n === 1 ? 'page' : 'pages'}`
  const loaded = pages === 0 ? 'Loaded on no page' : `Loaded on ${on(pages)}`
  if (use.has('works unseen') && used === 0) return `${loaded}; does its work without showing.`
  if (use.has('planned') && used === 0) return `${loaded}; planned for ${on(use.get('planned')!)}.`
  if (used > 0) return `${loaded}, seen in use on ${used}.`
  const notSeen = use.get('not seen') ?? 0
  if (notSeen > 0 && !use.has('unknown')) return `${loaded}, seen in use on none.`
  return `${loaded}. Whether it is used is not known.`
}
