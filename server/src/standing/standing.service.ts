import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import {
  attribute,
  isOutsider,
  median,
  firstMove,
  nextMoves,
  waitSplit,
  whatChanged,
  type NextMove,
  type PayerThen,
  sweepNoise,
  type SweepNoise,
  type WaitSplit,
} from '@unvelt/core'
import type { DismissedMove, Standing } from '@unvelt/contract'
import { keptView } from '../kept/kept-view.js'
import { Once } from '../kept/once.js'
import { SiteFilesService } from '../file-look/site-files.service.js'
import { latePages } from './late-pages.js'
import { NowhereService } from '../nowhere/nowhere.service.js'
import { SitePicturesService } from '../picture-look/site-pictures.service.js'
import { pastSweeps } from './past-sweeps.js'
import { payersThen, type PayerFigures } from './payers-then.js'
import { middleTimedReading } from '../rule/prediction.service.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepRow, untimedRepeats } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { SiteCasesService, type SiteAxes, type SiteCases } from './site-cases.service.js'
import { countsOf, kindsOf, middleOf, unassignedRequests } from './standing-figures.js'

/** The wait is split on so many of the most visited pages; more would not move the middle much. */
/** So many tell whether repeats are enough; each is worked out in some milliseconds. */
const NOISE_PAGES = 200
const WAIT_PAGES = 24
const NOTHING = { requests: 0, transferBytes: 0, idleBytes: 0, decodedBytes: 0, serverMs: 0, loadMs: null }

/** Moves about what could weigh less among the others, where they belong by the waiting that they spare. */
const withLighter = (moves: NextMove[], lighter: (NextMove | null)[]): NextMove[] =>
  [...moves, ...lighter.filter((move) => move !== null)].sort((a, b) => b.waitingMs - a.waitingMs)

/** Where a site stands: what a maintainer should know first, and what to do next. */
@Injectable()
export class StandingService {
  private readonly once = new Once()

  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
    private readonly cases: SiteCasesService,
    private readonly pictures: SitePicturesService,
    private readonly files: SiteFilesService,
    private readonly nowhere: NowhereService,
  ) {}

  /** The same that is being worked out already is waited for. */
  standing(site: SiteRow, sweep: SweepRow | null): Promise<Standing> {
    return this.once.run(`${site.id} ${sweep?.id ?? ''}`, () => this.workOut(site, sweep))
  }

  private async workOut(site: SiteRow, sweep: SweepRow | null): Promise<Standing> {
    const of = await this.cases.of(site, sweep)
    const { addOns, ledger, sums, cases, views } = of
    const dismissed = await this.dismissals(site.id)
    const gone = new Set(dismissed.map(({ move }) => move))
    const pagesRead = views.pages
    const wait = sweep ? await this.wait(sweep, ledger) : []
    const previous = sweep && (await this.before(sweep))
    const moves = nextMoves(cases)
    const names = new Map([...addOns, ...ledger.payers].map(({ slug, name }) => [slug, name]))
    return {
      sweep: ledger.sweep,
      pagesRead,
      middle: sweep ? await this.middle(sweep, of) : NOTHING,
      noise: sweep && (await this.noise(sweep)),
      addOns: countsOf(addOns, cases),
      outsideHosts: new Set([
        ...addOns.filter(({ active }) => active).flatMap(({ outsideHosts }) => outsideHosts),
        ...ledger.payers.filter(({ slug }) => isOutsider(slug)).map(({ name }) => name),
      ]).size,
      openQuestions: addOns.reduce((sum, { openQuestions }) => sum + openQuestions, 0),
      unassignedRequests: unassignedRequests(sums),
      wait: wait.length > 0 ? middleWait(wait) : null,
      waitPages: wait.length,
      kinds: kindsOf(ledger, sums),
      moves: withLighter(moves, [
        await this.pictures.move(site),
        await this.files.move(site),
        await this.nowhere.move(site, new Set(moves.map(({ addon }) => addon))),
        sweep && firstMove(await latePages(this.sequelize, site, sweep)),
      ])
        .filter(({ key }) => !gone.has(key))
        .map((move) => ({ ...move, name: names.get(move.addon) ?? move.addon })),
      dismissed,
      changes: sweep && previous ? await this.changes(site, previous, sweep, names) : [],
      changedSince: previous?.id ?? null,
      past: await pastSweeps(this.sequelize, site.id),
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

  private async middle(sweep: SweepRow, { ledger, sums }: SiteCases): Promise<Standing['middle']> {
    const middle = sums && middleOf(ledger, sums)
    if (!middle) return NOTHING
    const [load] = await this.sequelize.query<{ ms: number | null }>(
      `select percentile_cont(0.5) within group (order by load_ms) ms from reading
       where sweep_id = :sweepId and failure is null and variant = 'live'`,
      { replacements: { sweepId: sweep.id }, type: QueryTypes.SELECT },
    )
    return { ...middle, loadMs: load?.ms ?? null }
  }

  private noise(sweep: SweepRow): Promise<SweepNoise> {
    return keptView(this.sequelize, sweep, 'noise', () => this.noiseOf(sweep), String(untimedRepeats(sweep)))
  }

  private async noiseOf(sweep: SweepRow): Promise<SweepNoise> {
    const rows = await this.sequelize.query<{ times: number[] }>(
      `select array_agg(load_ms) times from reading
       where sweep_id = :sweepId and failure is null and variant = 'live' and load_ms is not null
       group by page_id order by page_id limit :most`,
      { replacements: { sweepId: sweep.id, most: NOISE_PAGES }, type: QueryTypes.SELECT },
    )
    const noise = sweepNoise(rows.map(({ times }) => times))
    return { ...noise, repeatsNeeded: noise.repeatsNeeded && noise.repeatsNeeded + untimedRepeats(sweep) }
  }

  private async wait(sweep: SweepRow, ledger: SiteAxes): Promise<WaitSplit[]> {
    const unread = new Set(ledger.unreadPages)
    const pages = ledger.pages
      .filter((page, index) => !unread.has(index) && page.area === 'public')
      .sort((a, b) => (b.views ?? 0) - (a.views ?? 0))
      .slice(0, WAIT_PAGES)
    const ids = pages.map(({ id }) => id)
    const make = async () => {
      const splits: WaitSplit[] = []
      for (const id of ids) {
        const reading = await middleTimedReading(sweep, id, 'live')
        const split = reading && waitSplit(reading, attribute(reading, sweep.sources))
        if (split) splits.push(split)
      }
      return splits
    }
    return keptView(this.sequelize, sweep, 'wait', make, ids.join(' '))
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
    const { before, after } = await payersThen(this.sequelize, then, now)
    const named = (payers: PayerFigures[]): PayerThen[] =>
      payers.map((row) => ({ ...row, name: names.get(row.slug) ?? row.slug.replace(/^outside:/, '') }))
    return whatChanged(
      { payers: named(before), installed: then.inventory },
      { payers: named(after), installed: now.inventory },
      site.leastDifference,
    )
  }
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
