import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { CMS, CONTENT, GLUED, PLAIN_VISIT, resolve, REST, UNASSIGNED, type Rule } from '@unvelt/core'
import { MEASURES, type Ledger, type LedgerMark, type LedgerPayer } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { PageRow, pageView, rulePage } from '../page/page.model.js'
import { DraftService } from '../rule/draft.service.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'

/** Payers that are no add-on, as the ledger names them. */
const PAGE_PAYERS: LedgerPayer[] = [
  { slug: CONTENT, name: 'Content', kind: 'content', version: null },
  { slug: CMS, name: 'CMS', kind: 'cms', version: null },
  { slug: REST, name: 'Rest of the server', kind: 'rest', version: null },
  { slug: GLUED, name: 'Glued files', kind: 'glued', version: null },
  { slug: UNASSIGNED, name: 'Unassigned', kind: 'unassigned', version: null },
]

interface TollColumns {
  page_ids: number[]
  payers: string[]
  requests: number[]
  transfer_bytes: string[]
  decoded_bytes: string[]
  idle_bytes: string[]
  main_thread_ms: number[]
  server_ms: number[]
  queries: number[]
  query_ms: number[]
}

/** The matrix of a sweep: every payer on every page, as columns. */
@Injectable()
export class LedgerService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
  ) {}

  async ledger(siteId: number, sweep: SweepRow | null): Promise<Ledger> {
    const all = await PageRow.findAll({ where: { siteId }, order: ['position'] })
    const addOns = await AddOnRow.findAll({ where: { siteId }, order: ['name'] })
    const tolls = sweep ? await this.columns(sweep.id) : EMPTY
    const read = new Set(tolls.page_ids)
    // Pages for signed-in people stand in the ledger as soon as a lens has seen them.
    const pages = all.filter((page) => !page.signedIn || read.has(page.id))
    const found = new Set(tolls.payers)
    const payers = [
      ...addOns.filter(({ slug, source }) => source !== 'reading' || found.has(slug)),
      ...PAGE_PAYERS.filter(({ slug }) => found.has(slug)),
    ].map(({ slug, name, kind, version }) => ({ slug, name, kind, version }))
    const pageAt = new Map(pages.map((page, index) => [page.id, index]))
    const payerAt = new Map(payers.map((payer, index) => [payer.slug, index]))
    const marks = (rules: Rule[]) => marksOf(rules, pages, payerAt)
    return {
      sweep: sweep && (await this.sweeps.view(sweep)),
      pages: pages.map(pageView),
      payers,
      cellPage: tolls.page_ids.map((id) => pageAt.get(id)!),
      cellPayer: tolls.payers.map((slug) => payerAt.get(slug)!),
      values: {
        requests: tolls.requests,
        transferBytes: tolls.transfer_bytes.map(Number),
        decodedBytes: tolls.decoded_bytes.map(Number),
        idleBytes: tolls.idle_bytes.map(Number),
        mainThreadMs: tolls.main_thread_ms,
        serverMs: tolls.server_ms,
        queries: tolls.queries,
        queryMs: tolls.query_ms,
      } satisfies Record<(typeof MEASURES)[number], number[]>,
      unreadPages: pages.flatMap((page, index) => (read.has(page.id) ? [] : [index])),
      live: marks((await this.live.current(siteId)).rules),
      drafts: marks(await this.drafts.rules(siteId)),
    }
  }

  private async columns(sweepId: number): Promise<TollColumns> {
    const [columns] = await this.sequelize.query<{ [K in keyof TollColumns]: TollColumns[K] | null }>(
      `select array_agg(page_id) page_ids, array_agg(payer) payers, array_agg(requests) requests,
              array_agg(transfer_bytes) transfer_bytes, array_agg(decoded_bytes) decoded_bytes,
              array_agg(idle_bytes) idle_bytes, array_agg(main_thread_ms) main_thread_ms, array_agg(server_ms) server_ms, array_agg(queries) queries, array_agg(query_ms) query_ms
       from toll where sweep_id = :sweepId and variant = 'live'`,
      { replacements: { sweepId }, type: QueryTypes.SELECT },
    )
    return columns?.page_ids ? (columns as TollColumns) : EMPTY
  }
}

const EMPTY: TollColumns = {
  page_ids: [],
  payers: [],
  requests: [],
  transfer_bytes: [],
  decoded_bytes: [],
  idle_bytes: [],
  main_thread_ms: [],
  server_ms: [],
  queries: [],
  query_ms: [],
}

function marksOf(rules: Rule[], pages: PageRow[], payerAt: Map<string, number>): LedgerMark[] {
  if (rules.length === 0) return []
  return pages.flatMap((page, index) =>
    resolve(rules, rulePage(page), PLAIN_VISIT).flatMap(({ addon, effect }) => {
      const payer = payerAt.get(addon)
      return payer === undefined ? [] : [{ page: index, payer, effect }]
    }),
  )
}
