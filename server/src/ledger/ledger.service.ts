import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { NOT_ADDONS, PLAIN_VISIT, resolve, USE_WORDS, type Rule } from '@unvelt/core'
import {
  MEASURES,
  WordColumnsMaker,
  type Ledger,
  type LedgerDetail,
  type LedgerFile,
  type WordColumns,
} from '@unvelt/contract'
import { addOnView } from '../add-on/add-on-view.js'
import { AddOnRow } from '../add-on/add-on.model.js'
import { fileCells } from '../toll/file-toll-store.js'
import { PageRow, pageView, rulePage } from '../page/page.model.js'
import { DraftService } from '../rule/draft.service.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { UseColumns } from '../use/use-columns.js'
import { useFacts } from '../use/use-store.js'
import { UseService } from '../use/use.service.js'
import { nameless, PAGE_PAYERS } from './nameless.js'

/** The matrix of a sweep: every payer on every page, as columns. */
@Injectable()
export class LedgerService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
    private readonly use: UseService,
  ) {}

  async ledger(siteId: number, sweep: SweepRow | null): Promise<Ledger> {
    const { all, pages, payers, addOns, untimed, ...axes } = await this.axes(siteId, sweep)
    const payerAt = new Map(payers.map((payer, index) => [payer.slug, index]))
    const marks = (rules: Rule[]) => marksOf(rules, pages, payerAt)
    const words = await this.use.words(siteId, sweep, addOns)
    const use = new UseColumns(words, idsOf(pages))
    const shown = new Set(pages)
    const elsewhere = new UseColumns(words, idsOf(all.filter((page) => !shown.has(page))))
    return {
      ...axes,
      pages: pages.map(pageView),
      payers,
      untimedPages: pages.flatMap((page, index) => (untimed.has(page.id) ? [index] : [])),
      live: marks((await this.live.current(siteId)).rules),
      drafts: marks(await this.drafts.rules(siteId)),
      usedElsewhere: payers.map(({ slug }) => elsewhere.usedOn(slug).length),
      use: usesOf(payers, pages.length, use),
    }
  }

  async detail(siteId: number, sweep: SweepRow, slug: string): Promise<LedgerDetail> {
    const row = await AddOnRow.findOne({ where: { siteId, slug } })
    const uses = await useFacts(this.sequelize, siteId, sweep.id, slug)
    const files = new Map<string, LedgerFile>()
    for (const { url, type, pageId, ...values } of await fileCells(this.sequelize, sweep.id, slug)) {
      const file = files.get(url) ?? {
        url,
        type,
        pageIds: [],
        values: Object.fromEntries(MEASURES.map((measure) => [measure, []])),
      }
      files.set(url, file)
      file.pageIds.push(pageId)
      for (const measure of MEASURES) file.values[measure]!.push({ ...NO_SERVER, ...values }[measure])
    }
    return {
      files: [...files.values()],
      features: (row?.features ?? []).map(({ slug: feature, name, on, uses: told }) => ({
        slug: feature,
        name,
        on,
        told: told !== undefined,
        usedOn: [...new Set(uses.filter((u) => u.feature === feature).flatMap(({ pageId }) => pageId ?? []))],
      })),
    }
  }

  /**
   * Pages across and payers down, as the ledger names them.
   * @param told The pages and payers that have tolls in the sweep, where that is known already.
   */
  async axes(siteId: number, sweep: SweepRow | null, told?: { pages: readonly number[]; payers: readonly string[] }) {
    const all = await PageRow.findAll({ where: { siteId }, order: ['position'], raw: true })
    const addOns = await AddOnRow.findAll({ where: { siteId }, order: ['name'], raw: true })
    const readPages = sweep && !told ? await this.readPages(sweep.id) : []
    const read = new Set(told?.pages ?? readPages.map(({ pageId }) => pageId))
    const untimed = new Set(readPages.flatMap(({ pageId, timed }) => (timed ? [] : pageId)))
    // Pages for signed-in people stand in the ledger as soon as a lens has seen them.
    const pages = all.filter((page) => !page.signedIn || read.has(page.id))
    const found = new Set(told?.payers ?? (sweep ? await this.payersOf(sweep.id) : []))
    const byView = new Map(addOns.map((row) => [row.slug, addOnView(row, undefined, 0)]))
    const payers = [
      ...addOns.filter(({ slug, source, gone }) => found.has(slug) || (source !== 'reading' && !gone)),
      ...PAGE_PAYERS.filter(({ slug }) => found.has(slug)),
      ...[...found].filter((slug) => !byView.has(slug) && !NOT_ADDONS.includes(slug)).map(nameless),
    ].map(({ slug, name, kind, version }) => ({
      slug,
      name: byView.get(slug)?.name ?? name,
      kind: byView.get(slug)?.kind ?? kind,
      version,
    }))
    return {
      sweep: sweep && (await this.sweeps.view(sweep)),
      all,
      pages,
      payers,
      addOns,
      unreadPages: pages.flatMap((page, index) => (read.has(page.id) ? [] : [index])),
      untimed,
    }
  }

  private readPages(sweepId: number): Promise<{ pageId: number; timed: boolean }[]> {
    return this.sequelize.query<{ pageId: number; timed: boolean }>(
      `select page_id "pageId", timed from sweep_page where sweep_id = :sweepId and exists
         (select 1 from toll where toll.sweep_id = :sweepId and variant = 'live' and toll.page_id = sweep_page.page_id)`,
      { replacements: { sweepId }, type: QueryTypes.SELECT },
    )
  }

  private async payersOf(sweepId: number): Promise<string[]> {
    const rows = await this.sequelize.query<{ payer: string }>(
      // Hops from payer to payer along the index, instead of looking at every toll.
      `with recursive hop as (
         (select payer from toll where sweep_id = :sweepId and variant = 'live' order by payer limit 1)
         union all
         select (select payer from toll where sweep_id = :sweepId and variant = 'live' and payer > hop.payer order by payer limit 1)
         from hop where hop.payer is not null)
       select payer from hop where payer is not null`,
      { replacements: { sweepId }, type: QueryTypes.SELECT },
    )
    return rows.map(({ payer }) => payer)
  }
}

const NO_SERVER = { serverMs: 0, queries: 0, queryMs: 0 }

const idsOf = (pages: readonly PageRow[]) => pages.map(({ id }) => id)

function marksOf(rules: Rule[], pages: readonly PageRow[], payerAt: ReadonlyMap<string, number>): WordColumns {
  const marks = new WordColumnsMaker(payerAt.size, pages.length)
  if (rules.length > 0)
    pages.forEach((page, index) => {
      for (const { addon, effect } of resolve(rules, rulePage(page), PLAIN_VISIT)) {
        const payer = payerAt.get(addon)
        if (payer !== undefined) marks.put(payer, index, effect)
      }
    })
  return marks.made()
}

function usesOf(payers: readonly { slug: string }[], pages: number, use: UseColumns): WordColumns {
  const words = new WordColumnsMaker(payers.length, pages)
  payers.forEach(({ slug }, payer) => {
    if (NOT_ADDONS.includes(slug)) return
    const column = use.of(slug)
    for (let page = 0; page < pages; page++) {
      const word = USE_WORDS[column[page]!]!
      if (word !== 'unknown') words.put(payer, page, word)
    }
  })
  return words.made()
}
