import { Inject, Injectable } from '@nestjs/common'
import PgBoss from 'pg-boss'
import { QueryTypes, Sequelize, type Transaction } from 'sequelize'
import { DEFAULT_REPEATS, MOST_REPEATS, type Sweep, type SweepPages } from '@unvelt/contract'
import { inventoryEntry } from '../add-on/add-on.model.js'
import { tellSweep } from '../events/tell.js'
import { LensRow } from '../lens/lens.model.js'
import { patternsOf } from '../pattern/pattern.model.js'
import { BusyError, notFound, ProblemError } from '../problem/problem.error.js'
import { QUEUE } from '../queue/queue.module.js'
import type { SiteRow } from '../site/site.model.js'
import { choosePages, type PageChoice } from './choose-pages.js'
import { moveToFront } from './fair-order.js'
import { lastPace, secondsLeft } from './pace.js'
import { attributionSources, evidentAddOns } from './sources.js'
import { whyNobodyReads } from './stand-still.js'
import { shownSweep } from './shown-sweep.js'
import { readBefore, takeOver } from './take-over.js'
import { queuePages } from './queue-pages.js'
import { countsOf } from './sweep-counts.js'
import { onlyTolls, SweepRow, type Variant } from './sweep.model.js'

interface SweepPlan extends PageChoice {
  purpose: SweepRow['purpose']
  repeats?: number
  lensId?: number
  variants?: Variant[]
  onCopies?: boolean
  /** Whose pages it takes over, all that are not to be read. */
  basis?: SweepRow
  /** What is to be stored with the sweep or not at all. */
  also?: (sweep: SweepRow, transaction: Transaction) => Promise<void>
}

/** Starts, follows, pauses and cancels sweeps. The reading itself is done by workers. */
@Injectable()
export class SweepService {
  constructor(
    @Inject(Sequelize) readonly sequelize: Sequelize,
    @Inject(QUEUE) readonly queue: PgBoss,
  ) {}

  /** A sweep for each lens, one after the other. All of them are under way, so none begins beside them. */
  async startAll(site: SiteRow, lensIds: (number | undefined)[], plan: Omit<SweepPlan, 'lensId'>): Promise<SweepRow[]> {
    await this.refuseWhileRunning(site.id)
    const sweeps: SweepRow[] = []
    for (const lensId of lensIds)
      sweeps.push(await this.begin(site, { ...plan, ...(lensId !== undefined && { lensId }) }, sweeps[0]?.id))
    return sweeps
  }

  async start(site: SiteRow, plan: SweepPlan): Promise<SweepRow> {
    await this.refuseWhileRunning(site.id)
    return this.begin(site, plan)
  }

  /**
   * Reads some pages of a survey again, in a sweep of its own that takes over what was read of the others: so it is whole, and the one
   * before stays as it was.
   */
  async readAnew(site: SiteRow, basis: SweepRow, pageIds: number[]): Promise<SweepRow> {
    if (basis.purpose !== 'survey' || basis.status !== 'done' || basis.lensId === null)
      throw new ProblemError(409, 'Only of a survey that was read to its end pages are read again like that.')
    return this.start(site, {
      purpose: 'survey',
      repeats: basis.repeats,
      lensId: basis.lensId,
      variants: basis.variants,
      pageIds,
      basis,
    })
  }

  private async begin(
    site: SiteRow,
    { purpose, lensId, repeats = DEFAULT_REPEATS, variants, onCopies = false, basis, also, ...choice }: SweepPlan,
    runId?: number,
  ): Promise<SweepRow> {
    const lens = await this.lens(site.id, lensId)
    const { all, pages, share } = await choosePages(site.id, lens, choice)
    if (pages.length === 0) throw new ProblemError(422, 'None of these pages belongs to the site.')
    const addOns = await evidentAddOns(site.id)
    const ids = pages.map((page) => page.id)
    const others = basis ? await readBefore(this.sequelize, basis.id, ids) : []
    // What the basis has learnt of the site's files holds for the pages that are taken over.
    const sources = { ...basis?.sources, ...attributionSources(site, addOns, await patternsOf(site.id)) }
    const sweep = await this.sequelize.transaction(async (transaction) => {
      const row = await SweepRow.create(
        {
          siteId: site.id,
          lensId: lens.id,
          purpose,
          status: 'running',
          repeats,
          onCopies,
          variants: variants ?? [{ name: 'live', rules: 'live' }],
          sources,
          inventory: addOns.filter(({ gone, source }) => !gone && source === 'connector').map(inventoryEntry),
          sample: basis
            ? (basis.sample ?? null)
            : pages.length === all.length
              ? null
              : { of: all.length, share, seed: choice.sample?.seed ?? null },
          ...(basis && { basisId: basis.id, takenOver: others.length }),
          finishedAt: null,
        },
        { transaction },
      )
      await this.sequelize.query(
        'insert into sweep_page (sweep_id, page_id) select :sweep, unnest(array[:pages]::int[])',
        { replacements: { sweep: row.id, pages: [...ids, ...others] }, transaction },
      )
      await row.update({ runId: runId ?? row.id }, { transaction })
      await also?.(row, transaction)
      if (basis) await takeOver(this.sequelize, { from: basis.id, to: row.id, pageIds: others }, transaction)
      await queuePages(this, row, ids, transaction)
      return row
    })
    await tellSweep(this.sequelize, { siteId: site.id, sweepId: sweep.id })
    return sweep
  }

  /** What a sweep would read, lens by lens, and how much of the site's visits that is. */
  async preview(siteId: number, lensIds: (number | undefined)[], choice: PageChoice): Promise<SweepPages[]> {
    return Promise.all(
      lensIds.map(async (lensId) => {
        const lens = await this.lens(siteId, lensId)
        const { all, pages, share } = await choosePages(siteId, lens, choice)
        return {
          lensId: lens.id,
          pages: pages.length,
          of: all.length,
          share,
          secondsEach: await lastPace(this.sequelize, lens.id),
        }
      }),
    )
  }

  private async lens(siteId: number, id: number | undefined): Promise<LensRow> {
    const lens = await LensRow.findOne({ where: { siteId, ...(id !== undefined && { id }) }, order: ['id'] })
    if (!lens) throw new ProblemError(422, 'The site has no such lens.')
    return lens
  }

  /** Two sweeps at once would disturb each other's figures. */
  async refuseWhileRunning(siteId: number): Promise<void> {
    if ((await SweepRow.count({ where: { siteId, status: 'running' } })) > 0)
      throw new BusyError('A sweep of this site is running already.')
  }

  async get(id: number): Promise<SweepRow> {
    const row = await SweepRow.findByPk(id)
    if (!row) throw notFound('sweep')
    return row
  }

  /** Stops a sweep after the reading at hand. What was read stays. */
  async cancel(sweep: SweepRow): Promise<void> {
    await SweepRow.update(
      { status: 'cancelled', why: null, finishedAt: new Date() },
      { where: { id: sweep.id, status: ['running', 'paused'] } },
    )
    await tellSweep(this.sequelize, { siteId: sweep.siteId, sweepId: sweep.id })
  }

  /** Stops a sweep after the reading at hand, to go on later. */
  async pause(sweep: SweepRow): Promise<void> {
    const [paused] = await SweepRow.update({ status: 'paused' }, { where: { id: sweep.id, status: 'running' } })
    if (paused === 0) throw new ProblemError(409, 'Only a sweep that is under way can be paused.')
    await tellSweep(this.sequelize, { siteId: sweep.siteId, sweepId: sweep.id })
  }

  /** Goes on with a paused sweep. A page that was at hand is found by the workers themselves, as after a crash. */
  async resume(sweep: SweepRow): Promise<void> {
    if (sweep.status !== 'paused') throw new ProblemError(409, 'Only a paused sweep can go on.')
    await this.goOn(sweep)
  }

  /** Reads again what failed, and nothing else. */
  async rereadFailed(sweep: SweepRow): Promise<void> {
    if (sweep.status === 'running' || sweep.status === 'paused')
      throw new ProblemError(409, 'The sweep is not over yet.')
    await this.goOn(sweep, async (transaction) => {
      const failed = await this.sequelize.query<{ page_id: number }>(
        'delete from reading where sweep_id = :sweep and failure is not null returning page_id',
        { replacements: { sweep: sweep.id }, type: QueryTypes.SELECT, transaction },
      )
      if (failed.length === 0) throw new ProblemError(409, 'No reading of this sweep has failed.')
      await this.sequelize.query(
        `update sweep_page set state = 'waiting' where sweep_id = :sweep and page_id in (:pages)`,
        { replacements: { sweep: sweep.id, pages: failed.map((row) => row.page_id) }, transaction },
      )
    })
  }

  /** Reads each page of a sweep that is over some times more. */
  async readMore(sweep: SweepRow, times: number): Promise<void> {
    if (sweep.status !== 'done') throw new ProblemError(409, 'The sweep has not been read to its end.')
    const repeats = sweep.repeats + times
    if (repeats > MOST_REPEATS)
      throw new ProblemError(
        409,
        `No page is read more than ${MOST_REPEATS} times; this one was ${sweep.repeats} times.`,
      )
    await this.goOn(sweep, async (transaction) => {
      await sweep.update({ repeats }, { transaction })
      await this.sequelize.query(`update sweep_page set state = 'waiting' where sweep_id = :sweep`, {
        replacements: { sweep: sweep.id },
        transaction,
      })
    })
  }

  /** @returns how many of the pages were still waiting. */
  async readNext(sweep: SweepRow, pageIds: number[]): Promise<number> {
    if (sweep.status !== 'running') throw new ProblemError(409, 'The sweep is not under way.')
    const pages = await moveToFront(this.sequelize, sweep.id, pageIds)
    if (pages === 0)
      throw new ProblemError(
        409,
        pageIds.length === 1 ? 'The page is being read or has been read.' : 'None of these pages waits to be read.',
      )
    return pages
  }

  private async goOn(sweep: SweepRow, first?: (transaction: Transaction) => Promise<void>): Promise<void> {
    if (sweep.thinnedAt) throw new ProblemError(409, onlyTolls(sweep))
    await this.refuseWhileRunning(sweep.siteId)
    await this.sequelize.transaction(async (transaction) => {
      await first?.(transaction)
      await sweep.update({ status: 'running', why: null, finishedAt: null }, { transaction })
      const open = await this.sequelize.query<{ pageId: number }>(
        `select page_id "pageId" from sweep_page join page on page.id = page_id
         where sweep_id = :sweep and state not in ('done', 'failed') order by state = 'begun', position`,
        { replacements: { sweep: sweep.id }, type: QueryTypes.SELECT, transaction },
      )
      const ids = open.map(({ pageId }) => pageId)
      await queuePages(this, sweep, ids, transaction)
    })
    await tellSweep(this.sequelize, { siteId: sweep.siteId, sweepId: sweep.id })
  }

  /** The survey whose figures are shown when none is asked for. */
  async toShow(siteId: number): Promise<SweepRow | null> {
    const id = await shownSweep(this.sequelize, siteId)
    return id === null ? null : this.get(id)
  }

  async list(siteId: number): Promise<Sweep[]> {
    const rows = await SweepRow.findAll({ where: { siteId }, order: [['startedAt', 'desc']], limit: 50 })
    return Promise.all(rows.map((row) => this.view(row)))
  }

  async view(row: SweepRow): Promise<Sweep> {
    const counts = await countsOf(this.sequelize, row.id)
    const failures = await this.sequelize.query<{ reason: string; paths: string[] }>(
      `select failure reason, array_agg(distinct path) paths from reading join page on page.id = page_id
       where sweep_id = :sweep and failure is not null group by failure order by count(*) desc limit 20`,
      { replacements: { sweep: row.id }, type: QueryTypes.SELECT },
    )
    // What a proof makes up for is read beside what was planned.
    const planned = Math.max(counts.readings, counts.pages * row.repeats * row.variants.length)
    const lens = row.lensId === null ? null : await LensRow.findByPk(row.lensId)
    return {
      id: row.id,
      siteId: row.siteId,
      runId: row.runId ?? row.id,
      status: row.status,
      why: row.status === 'running' ? await whyNobodyReads(this.sequelize) : row.why,
      purpose: row.purpose,
      lensId: row.lensId,
      lens: lens?.name ?? 'from a HAR file',
      repeats: row.repeats,
      withoutRules: row.purpose === 'survey' && row.variants[0]?.rules !== 'live',
      sample: row.sample ?? null,
      takenOver: row.basisId && row.takenOver ? { sweepId: row.basisId, pages: row.takenOver } : null,
      ...counts,
      readingsPlanned: planned,
      secondsLeft:
        row.status === 'running' ? await secondsLeft(this.sequelize, row.id, planned - counts.readings) : null,
      startedAt: row.startedAt.toISOString(),
      finishedAt: row.finishedAt?.toISOString() ?? null,
      failures,
    }
  }
}
