import { PAGE_OWN } from '../figures/page-own.js'
import { MEASURES, type Ledger, type LedgerCells, type LedgerPayer, type Measure, wordAt } from '@unvelt/contract'

export type Figures = Record<Measure, number>
export const noFigures = (): Figures => Object.fromEntries(MEASURES.map((measure) => [measure, 0])) as Figures

/** What is known of use on a page. */
export type UseWord = 'unknown' | 'used' | 'works unseen' | 'planned' | 'not seen'

const TIMES: readonly Measure[] = ['mainThreadMs', 'serverMs', 'queryMs']
const SERVER_MEASURES: readonly Measure[] = ['serverMs', 'queries', 'queryMs']

interface Sums {
  payers: Float64Array
  pages: Float64Array
  total: number
  /** The highest cell. */
  most: number
}

/** A ledger with its cells, where any of them is found at once: payers down, pages across, both by index. */
export class Sheet {
  /** Payer × page → place in the columns, plus one. */
  private readonly at: Int32Array
  private readonly sums = new Map<Measure, Sums>()
  readonly unread: ReadonlySet<number>
  private readonly untimed: ReadonlySet<number>

  constructor(
    readonly ledger: Ledger,
    readonly cells: LedgerCells,
  ) {
    const size = ledger.payers.length * this.width
    this.at = new Int32Array(size)
    for (let i = 0; i < cells.count; i++) this.at[cells.payer[i]! * this.width + cells.page[i]!] = i + 1
    this.unread = new Set(ledger.unreadPages)
    this.untimed = new Set(ledger.untimedPages)
  }

  get width(): number {
    return this.ledger.pages.length
  }

  value(payer: number, page: number, measure: Measure): number {
    const at = this.at[payer * this.width + page]!
    return at === 0 ? 0 : this.cells.values[measure][at - 1]!
  }

  figures(payer: number, page: number): Figures {
    return Object.fromEntries(MEASURES.map((m) => [m, this.value(payer, page, m)])) as Figures
  }

  useOf(payer: number, page: number): UseWord {
    return (wordAt(this.ledger.use, payer, page) as UseWord | undefined) ?? 'unknown'
  }

  liveOn(payer: number, page: number): string | undefined {
    return wordAt(this.ledger.live, payer, page)
  }

  draftOn(payer: number, page: number): string | undefined {
    return wordAt(this.ledger.drafts, payer, page)
  }

  /** Whether an effect of either kind touches a payer anywhere. */
  touched(payer: number): boolean {
    return [this.ledger.live, this.ledger.drafts].some(({ rows }) => rows[payer])
  }

  /** The margins of a measure: sums by payer, by page, and of all. Added up once. */
  margins(measure: Measure): Sums {
    const known = this.sums.get(measure)
    if (known) return known
    const payers = new Float64Array(this.ledger.payers.length)
    const pages = new Float64Array(this.width)
    let total = 0
    let most = 0
    const { count, payer, page, values } = this.cells
    const column = values[measure]
    for (let i = 0; i < count; i++) {
      const value = column[i]!
      payers[payer[i]!]! += value
      pages[page[i]!]! += value
      total += value
      if (value > most) most = value
    }
    const sums = { payers, pages, total, most }
    this.sums.set(measure, sums)
    return sums
  }

  /** Why a page has no figure in a measure; null where it has one. Times come in after all else, or could not be taken. */
  lacking(page: number, measure: Measure): 'unread' | 'not yet' | 'not timed' | null {
    if (this.unread.has(page)) return 'unread'
    if (!this.untimed.has(page) || !TIMES.includes(measure)) return null
    const { status } = this.ledger.sweep!
    return status === 'running' || status === 'paused' ? 'not yet' : 'not timed'
  }

  /** Whether the site tells anything of a measure. What its server does is not seen from outside. */
  tells(measure: Measure): boolean {
    const all = this.unread.size + this.untimed.size === this.width
    return !SERVER_MEASURES.includes(measure) || all || this.margins(measure).total > 0
  }

  pagesOf(payer: number): number {
    let pages = 0
    const from = payer * this.width
    for (let page = 0; page < this.width; page++) if (this.at[from + page] !== 0) pages++
    return pages
  }
}

/** Whether a payer is an add-on that rules can be about, and not the page's own content, the CMS or an unannounced outsider. */
export const isAddOn = (payer: LedgerPayer) => !isPageOwn(payer) && !isFound(payer)

/** Whether only readings tell of it: an outsider, a folder of the site's own or inline code that nobody announced. */
export const isFound = ({ slug }: LedgerPayer) => /^(?:outside|own|inline):/.test(slug)

export const isPageOwn = ({ kind }: LedgerPayer) => PAGE_OWN.includes(kind)
