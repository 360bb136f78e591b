import { Injectable } from '@nestjs/common'
import { setImmediate } from 'node:timers/promises'
import { NOT_ADDONS, type AddOnCase, type SitePages } from '@unvelt/core'
import type { AddOn, Ledger } from '@unvelt/contract'
import { AddOnService } from '../add-on/add-on.service.js'
import { summedCells, type SummedCells } from '../ledger/cell-sums.js'
import { CellsService } from '../ledger/cells.service.js'
import { LedgerService } from '../ledger/ledger.service.js'
import { pageView } from '../page/page.model.js'
import type { SiteRow } from '../site/site.model.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { UseColumns } from '../use/use-columns.js'
import { UseService } from '../use/use.service.js'
import type { UseWords } from '../use/use-words.js'
import { KnownCasePages, type SiteViews } from './known-case-pages.js'

/** Pages and payers as the ledger shows them. */
export type SiteAxes = Pick<Ledger, 'sweep' | 'pages' | 'payers' | 'unreadPages'>

/** All of a site's add-ons as moves and candidates look at them. */
export interface SiteCases {
  addOns: AddOn[]
  ledger: SiteAxes
  sums: SummedCells | null
  cases: AddOnCase[]
  use: UseWords
  views: SiteViews
}

/** For so many add-ons at a time nobody else is heard. */
const AT_A_TIME = 32

/** What standing and retirements go by: each add-on with what it costs, where, and what is known of its use there. */
@Injectable()
export class SiteCasesService {
  private readonly known = new KnownCasePages()

  constructor(
    private readonly addOns: AddOnService,
    private readonly ledgers: LedgerService,
    private readonly packs: CellsService,
    private readonly use: UseService,
  ) {}

  async of(site: SiteRow, sweep: SweepRow | null): Promise<SiteCases> {
    const addOns = (await this.addOns.list(site.id)).filter(({ gone }) => !gone)
    const sums = sweep && summedCells(await this.packs.of(sweep))
    const axes = await this.ledgers.axes(site.id, sweep, sums ?? undefined)
    const ledger = { ...axes, pages: axes.pages.map(pageView) }
    const use = await this.use.words(site.id, sweep, axes.addOns)
    const unread = new Set(ledger.unreadPages)
    const total = ledger.pages.reduce((sum, { views: v }, index) => sum + (unread.has(index) ? 0 : (v ?? 0)), 0)
    const views = { total, pages: ledger.pages.length - unread.size }
    const words = new UseColumns(
      use,
      axes.all.map(({ id }) => id),
    )
    const pages = this.known.site(sums, axes.all.map(pageView), views)
    return { addOns, ledger, sums, use, views, cases: await this.casesOf(addOns, sums, words, pages) }
  }

  /** `words` and `pages` are those of the whole site: an add-on may be in use where no sweep has read. */
  private async casesOf(
    addOns: readonly AddOn[],
    sums: SummedCells | null,
    words: UseColumns,
    pages: SitePages,
  ): Promise<AddOnCase[]> {
    const at = new Map(sums?.payers.map((slug, index) => [slug, index]))
    const cases: AddOnCase[] = []
    for (const addOn of addOns) {
      if (NOT_ADDONS.includes(addOn.slug)) continue
      // Whoever asks for something smaller meanwhile does not wait for all of them.
      if (cases.length % AT_A_TIME === AT_A_TIME - 1) await setImmediate()
      const columns = sums?.of[at.get(addOn.slug) ?? -1]
      cases.push({
        slug: addOn.slug,
        name: addOn.name,
        kind: addOn.kind,
        active: addOn.active,
        works: addOn.works as AddOnCase['works'],
        neededBy: addOns.filter(({ needs }) => needs.includes(addOn.slug)).map(({ slug }) => slug),
        told: addOn.blocks.length > 0,
        canSkip: addOn.canSkip,
        jobs: addOn.jobs,
        outsideHosts: addOn.outsideHosts,
        features: addOn.features,
        verdict: addOn.verdict.verdict,
        tableBytes: addOn.tables.reduce((sum, { bytes }) => sum + bytes, 0),
        usedOn: words.usedOn(addOn.slug).map((page) => pages.paths[page]!),
        pages: this.known.of(pages, columns, words.of(addOn.slug)),
      })
    }
    return cases
  }
}
