import type { Measure } from '@unvelt/contract'
import type { Sheet } from './sheet.js'

/** How figures are shown: as measured, as a share of the page, or by how often pages are visited. */
export const BASES = ['measured', 'share', 'visits'] as const
export type Basis = (typeof BASES)[number]

/** Visits are counted by the thousand, so that figures of seldom visited pages stay readable. */
export const VISITS = 1000

/** The figures of a sheet in one measure on one basis. Cells, margins and total always add up. */
export class Weighed {
  private readonly factors: Float64Array
  readonly payers: Float64Array
  readonly pages: Float64Array
  readonly total: number
  readonly most: number
  /** Whether the site tells anything of the measure. */
  readonly told: boolean
  /** Pages whose visits are not known; they count as unvisited. */
  readonly unvisited: number
  /** Pages whose times are still to be taken, where the measure is one. */
  readonly toCome: number
  /** Whether any page has a figure, so that sums mean something. */
  readonly sums: boolean

  constructor(
    readonly sheet: Sheet,
    readonly measure: Measure,
    readonly basis: Basis,
  ) {
    const { pages } = sheet.ledger
    const plain = sheet.margins(measure)
    this.told = sheet.tells(measure)
    const views = pages.reduce((sum, page, index) => sum + (this.lacks(index) ? 0 : (page.views ?? 0)), 0)
    this.unvisited = pages.filter((page, index) => page.views === null && !this.lacks(index)).length
    this.toCome = pages.filter((_, index) => sheet.lacking(index, measure) === 'not yet').length
    this.sums = this.told && pages.some((_, index) => sheet.lacking(index, measure) === null)
    this.factors = Float64Array.from(pages, (page, index) => {
      if (basis === 'measured') return 1
      if (basis === 'share') return plain.pages[index] ? 1 / plain.pages[index] : 0
      return views ? ((page.views ?? 0) / views) * VISITS : 0
    })
    this.pages = plain.pages.map((value, index) => value * this.factors[index]!)
    this.payers = basis === 'measured' ? plain.payers : new Float64Array(sheet.ledger.payers.length)
    let most = basis === 'measured' ? plain.most : 0
    const { count, payer, page } = sheet.cells
    const column = sheet.cells.values[measure]
    const { factors, payers } = this
    if (basis !== 'measured')
      for (let i = 0; i < count; i++) {
        const value = column[i]! * factors[page[i]!]!
        payers[payer[i]!]! += value
        if (value > most) most = value
      }
    this.most = most
    this.total = this.pages.reduce((sum, value) => sum + value, 0)
    if (basis !== 'share') return
    // Shares of single pages don't add up to one of the site; the margin is the share of all that was measured.
    for (let i = 0; i < this.payers.length; i++) this.payers[i] = plain.total ? plain.payers[i]! / plain.total : 0
    this.total = plain.total ? 1 : 0
  }

  value(payer: number, page: number): number {
    return this.sheet.value(payer, page, this.measure) * this.factors[page]!
  }

  /** Whether a page has no figure in the measure. */
  lacks(page: number): boolean {
    return this.sheet.lacking(page, this.measure) !== null
  }

  factor(page: number): number {
    return this.factors[page]!
  }
}

/** The middle value, the lower of two; 0 of none. */
export function lowerMedian(values: number[]): number {
  if (values.length === 0) return 0
  return [...values].sort((a, b) => a - b)[(values.length - 1) >> 1]!
}
