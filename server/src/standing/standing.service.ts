import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import {
  attribute,
  isOutsider,
  median,
  nextMoves,
  NOT_ADDONS,
  waitSplit,
  whatChanged,
  type AddOnCase,
  type PayerThen,
  type UseWord,
  type WaitSplit,
} from '@unvelt/core'
import {
  MEASURES,
  onLedger,
  packCells,
  unpackCells,
  type AddOn,
  type DismissedMove,
  type Ledger,
  type LedgerCells,
  type PastSweep,
  type Standing,
} from '@unvelt/contract'
import { AddOnService } from '../add-on/add-on.service.js'
import { CellsService } from '../ledger/cells.service.js'
import { LedgerService } from '../ledger/ledger.service.js'
import { PageRow } from '../page/page.model.js'
import { UseService } from '../use/use.service.js'
import type { UseWords } from '../use/use-words.js'
import { middleReading } from '../rule/prediction.service.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'

/** The wait is split on so many of the most visited pages; more would not move the middle much. */
const WAIT_PAGES = 24
const NOTHING = { requests: 0, transferBytes: 0, idleBytes: 0, decodedBytes: 0, serverMs: 0, loadMs: null }

/** Where a site stands: what a maintainer should know first, and what to do next. */
@Injectable()
export class StandingService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
    private readonly ledgers: LedgerService,
    private readonly packs: CellsService,
    private readonly use: UseService,
    private readonly addOns: AddOnService,
  ) {}

  async standing(site: SiteRow, sweep: SweepRow | null): Promise<Standing> {
    const addOns = (await this.addOns.list(site.id)).filter(({ gone }) => !gone)
    const ledger = await this.ledgers.ledger(site.id, sweep)
    const cells = sweep ? onLedger(ledger, unpackCells(bufferOf(await this.packs.of(sweep)))) : NO_CELLS
    const words = wordsOf(ledger)
    const everywhere = await PageRow.findAll({ where: { siteId: site.id } })
    const cases = casesOf(addOns, ledger, cells, words, await this.use.words(site.id, sweep), everywhere)
    const dismissed = await this.dismissals(site.id)
    const gone = new Set(dismissed.map(({ move }) => move))
    const unread = new Set(ledger.unreadPages)
    const views = ledger.pages.reduce((sum, { views: v }, index) => sum + (unread.has(index) ? 0 : (v ?? 0)), 0)
    const pagesRead = ledger.pages.length - unread.size
    const wait = sweep ? await this.wait(sweep, ledger) : []
    const previous = sweep && (await this.before(sweep))
    const names = new Map([...addOns, ...ledger.payers].map(({ slug, name }) => [slug, name]))
    return {
      sweep: ledger.sweep,
      pagesRead,
      middle: sweep ? await this.middle(sweep, ledger, cells) : NOTHING,
      addOns: countsOf(addOns, cases),
      outsideHosts: new Set([
        ...addOns.filter(({ active }) => active).flatMap(({ outsideHosts }) => outsideHosts),
        ...ledger.payers.filter(({ slug }) => isOutsider(slug)).map(({ name }) => name),
      ]).size,
      openQuestions: addOns.reduce((sum, { openQuestions }) => sum + openQuestions, 0),
      unassignedRequests: sumOf(ledger, cells, 'requests', ({ slug }) => slug === 'unassigned'),
      wait: wait.length > 0 ? middleWait(wait) : null,
      waitPages: wait.length,
      kinds: kindsOf(ledger, cells),
      moves: nextMoves(cases, { total: views, pages: pagesRead })
        .filter(({ key }) => !gone.has(key))
        .map((move) => ({ ...move, name: names.get(move.addon) ?? move.addon })),
      dismissed,
      changes: sweep && previous ? await this.changes(site, previous, sweep, names) : [],
      changedSince: previous?.id ?? null,
      past: await this.past(site.id),
    }
  }

  async dismiss(siteId: number, move: string, why: string): Promise<void> {
    await this.sequelize.query(
      `insert into dismissal (site_id, move, why) values ($1, $2, $3)
       on conflict (site_id, move) do update set why = excluded.why, at = now()`,
      { bind: [siteId, move, why] },
    )
  }

  async bringBack(siteId: number, move: string): Promise<void> {
    await this.sequelize.query('delete from dismissal where site_id = $1 and move = $2', { bind: [siteId, move] })
  }

  private dismissals(siteId: number): Promise<DismissedMove[]> {
    return this.sequelize.query<DismissedMove>(
      'select move, why, at from dismissal where site_id = :siteId order by at desc',
      { replacements: { siteId }, type: QueryTypes.SELECT },
    )
  }

  private async middle(sweep: SweepRow, ledger: Ledger, cells: LedgerCells): Promise<Standing['middle']> {
    const unread = new Set(ledger.unreadPages)
    const read = ledger.pages.map((_, index) => index).filter((index) => !unread.has(index))
    if (read.length === 0) return NOTHING
    const middleOf = (measure: keyof LedgerCells['values']) => {
      const sums = new Float64Array(ledger.pages.length)
      for (let i = 0; i < cells.count; i++) sums[cells.page[i]!]! += cells.values[measure][i]!
      return median(read.map((index) => sums[index]!))
    }
    const [load] = await this.sequelize.query<{ ms: number | null }>(
      `select percentile_cont(0.5) within group (order by load_ms) ms from reading
       where sweep_id = :sweepId and failure is null and variant = 'live'`,
      { replacements: { sweepId: sweep.id }, type: QueryTypes.SELECT },
    )
    return {
      requests: middleOf('requests'),
      transferBytes: middleOf('transferBytes'),
      idleBytes: middleOf('idleBytes'),
      decodedBytes: middleOf('decodedBytes'),
      serverMs: middleOf('serverMs'),
      loadMs: load?.ms ?? null,
    }
  }

  private async wait(sweep: SweepRow, ledger: Ledger): Promise<WaitSplit[]> {
    const unread = new Set(ledger.unreadPages)
    const pages = ledger.pages
      .filter((page, index) => !unread.has(index) && page.area === 'public')
      .sort((a, b) => (b.views ?? 0) - (a.views ?? 0))
      .slice(0, WAIT_PAGES)
    const splits: WaitSplit[] = []
    for (const { id } of pages) {
      const reading = await middleReading(sweep, id, 'live')
      const split = reading && waitSplit(reading, attribute(reading, sweep.sources))
      if (split) splits.push(split)
    }
    return splits
  }

  /** The survey of the whole site, through the same lens, that came before. */
  private async before(sweep: SweepRow): Promise<SweepRow | null> {
    const [row] = await this.sequelize.query<{ id: number }>(
      `select id from sweep where site_id = :siteId and purpose = 'survey' and status = 'done' and sample is null
       and lens_id = :lensId and variants -> 0 ->> 'rules' = 'live' and started_at < :at order by started_at desc limit 1`,
      {
        replacements: { siteId: sweep.siteId, lensId: sweep.lensId, at: sweep.startedAt },
        type: QueryTypes.SELECT,
      },
    )
    return row ? this.sweeps.get(row.id) : null
  }

  private async changes(site: SiteRow, then: SweepRow, now: SweepRow, names: Map<string, string>) {
    const payers = async (sweepId: number): Promise<PayerThen[]> => {
      const rows = await this.sequelize.query<Omit<PayerThen, 'name'>>(
        `select payer slug, sum(requests)::float8 requests, sum(transfer_bytes)::float8 "transferBytes",
                sum(server_ms) "serverMs" from toll
         where sweep_id = :sweepId and variant = 'live' and page_id in (
           select page_id from toll where sweep_id = :then and variant = 'live'
           intersect select page_id from toll where sweep_id = :now and variant = 'live')
         group by payer`,
        { replacements: { sweepId, then: then.id, now: now.id }, type: QueryTypes.SELECT },
      )
      return rows.map((row) => ({ ...row, name: names.get(row.slug) ?? row.slug.replace(/^outside:/, '') }))
    }
    return whatChanged(
      { payers: await payers(then.id), installed: then.inventory },
      { payers: await payers(now.id), installed: now.inventory },
      site.leastDifference,
    )
  }

  private past(siteId: number): Promise<PastSweep[]> {
    return this.sequelize
      .query<PastSweep>(
        `select id "sweepId", started_at "at", count(*)::int pages,
         percentile_cont(0.5) within group (order by requests) requests,
         percentile_cont(0.5) within group (order by transfer_bytes) "transferBytes",
         percentile_cont(0.5) within group (order by server_ms) "serverMs",
         (select percentile_cont(0.5) within group (order by load_ms) from reading
           where sweep_id = pages.id and failure is null and variant = 'live') "loadMs"
       from (
         select sweep.id, started_at, page_id, sum(requests)::float8 requests, sum(transfer_bytes)::float8 transfer_bytes,
                sum(server_ms) server_ms
         from sweep join toll on toll.sweep_id = sweep.id and variant = 'live'
         where site_id = :siteId and purpose = 'survey' and status = 'done' and sample is null
           and variants -> 0 ->> 'rules' = 'live' and lens_id = (select min(id) from lens where site_id = :siteId)
         group by sweep.id, started_at, page_id) pages
       group by id, started_at order by started_at desc limit 24`,
        { replacements: { siteId }, type: QueryTypes.SELECT },
      )
      .then((rows) => rows.reverse())
  }
}

/** A copy on a boundary of its own; a pooled buffer may begin anywhere. */
function bufferOf(bytes: Uint8Array): ArrayBuffer {
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer
}

const NO_CELLS: LedgerCells = unpackCells(
  bufferOf(packCells({ pages: [], payers: [] }, [], [], Object.fromEntries(MEASURES.map((m) => [m, []])) as never)),
)

type Words = (payer: number, page: number) => UseWord
function wordsOf(ledger: Ledger): Words {
  const width = ledger.pages.length
  const known = new Map(ledger.use.map(({ payer, page, word }) => [payer * width + page, word as UseWord]))
  return (payer, page) => known.get(payer * width + page) ?? 'unknown'
}

/** `everywhere` are all pages of the site, those among them that no sweep has read: an add-on may be in use there. */
function casesOf(
  addOns: readonly AddOn[],
  ledger: Ledger,
  cells: LedgerCells,
  words: Words,
  use: UseWords,
  everywhere: readonly PageRow[],
): AddOnCase[] {
  const at = new Map(ledger.payers.map(({ slug }, index) => [slug, index]))
  const cellsOf = ledger.payers.map((): number[] => [])
  for (let i = 0; i < cells.count; i++) cellsOf[cells.payer[i]!]!.push(i)
  return addOns
    .filter(({ slug }) => !NOT_ADDONS.includes(slug))
    .map((addOn) => {
      const payer = at.get(addOn.slug)
      return {
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
        usedOn: everywhere
          .filter(({ id }) => ['used', 'planned'].includes(use.wordOf(addOn.slug, id)))
          .map(({ path }) => path),
        pages: (payer === undefined ? [] : cellsOf[payer]!).map((i) => {
          const page = ledger.pages[cells.page[i]!]!
          return {
            pageId: page.id,
            path: page.path,
            area: page.area as 'public' | 'office',
            views: page.views,
            word: words(payer!, cells.page[i]!),
            transferBytes: cells.values.transferBytes[i]!,
            serverMs: cells.values.serverMs[i]!,
            mainThreadMs: cells.values.mainThreadMs[i]!,
            requests: cells.values.requests[i]!,
          }
        }),
      }
    })
}

function countsOf(addOns: readonly AddOn[], cases: readonly AddOnCase[]): Standing['addOns'] {
  const active = cases.filter((each) => each.active)
  const seen = active.filter(({ usedOn }) => usedOn.length > 0)
  const unseen = active.filter((each) => each.works !== null && each.usedOn.length === 0)
  const nowhere = active.filter(
    (each) =>
      each.works === null &&
      each.usedOn.length === 0 &&
      each.pages.length > 0 &&
      each.pages.every(({ word, area }) => word === 'not seen' || area === 'office'),
  )
  return {
    all: addOns.length,
    active: active.length,
    seenInUse: seen.length,
    notSeen: nowhere.length,
    worksUnseen: unseen.length,
    notKnown: active.length - seen.length - unseen.length - nowhere.length,
    undecided: addOns.filter(({ verdict, kind }) => verdict.verdict === 'undecided' && kind !== 'theme').length,
  }
}

function sumOf(
  { payers }: Ledger,
  cells: LedgerCells,
  measure: keyof LedgerCells['values'],
  wanted: (payer: Ledger['payers'][number]) => boolean,
): number {
  let sum = 0
  for (let i = 0; i < cells.count; i++) if (wanted(payers[cells.payer[i]!]!)) sum += cells.values[measure][i]!
  return sum
}

function kindsOf(ledger: Ledger, cells: LedgerCells): Standing['kinds'] {
  const kinds = [...new Set(ledger.payers.map(({ kind }) => kind))]
  return kinds
    .map((kind) => {
      const of = (measure: keyof LedgerCells['values']) => sumOf(ledger, cells, measure, (payer) => payer.kind === kind)
      return {
        kind,
        payers: ledger.payers.filter((payer) => payer.kind === kind).length,
        requests: of('requests'),
        transferBytes: of('transferBytes'),
        idleBytes: of('idleBytes'),
        mainThreadMs: of('mainThreadMs'),
        serverMs: of('serverMs'),
      }
    })
    .sort((a, b) => b.transferBytes - a.transferBytes)
}

function middleWait(splits: readonly WaitSplit[]): WaitSplit {
  const of = (part: keyof WaitSplit) => median(splits.map((split) => split[part]))
  return {
    hostAndNetwork: of('hostAndNetwork'),
    cms: of('cms'),
    addOnsOnServer: of('addOnsOnServer'),
    addOnsInBrowser: of('addOnsInBrowser'),
    content: of('content'),
  }
}
