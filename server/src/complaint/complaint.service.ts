import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import { isSameComplaint, newComplaints, nextOf, type CauseStage } from '@unvelt/core'
import type { CauseRequest, CauseSearch, CauseStageView, PageComplaints, SiteComplaints } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { FIND_CAUSE, within, type FindCauseJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { endCause } from './cause-job.js'
import { CauseSearchRow } from './cause.model.js'
import { complaintsOfSweep, surveyBefore } from './complaints-of-sweep.js'
import { changedBetween, complaintsIn, lastTwo, withNews } from './page-history.js'
import { SURE } from './run-cause.js'

const MOST_SEARCHES = 10

/** What a page complains of, since when, and the search for what is guilty of it. The looking is a job (run-cause.ts). */
@Injectable()
export class ComplaintService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
  ) {}

  async of(page: PageRow): Promise<PageComplaints> {
    const [sweep, earlier] = await lastTwo(this.sequelize, page.id)
    const [now, then, rows] = await Promise.all([
      complaintsIn(sweep, page.id),
      complaintsIn(earlier, page.id),
      CauseSearchRow.findAll({ where: { pageId: page.id }, order: [['id', 'desc']], limit: MOST_SEARCHES }),
    ])
    return {
      complaints: withNews(now ?? [], then),
      readAt: sweep?.startedAt.toISOString() ?? null,
      earlierAt: earlier?.startedAt.toISOString() ?? null,
      changed: sweep && earlier ? changedBetween(earlier.inventory, sweep.inventory) : [],
      searches: await Promise.all(rows.map((row) => this.view(row))),
    }
  }

  /** What pages complain of in a sweep, and did not in the one before. */
  async newIn(sweep: SweepRow | null): Promise<SiteComplaints> {
    const earlier = sweep && (await surveyBefore(this.sequelize, sweep))
    if (!sweep || !earlier) return { earlierAt: null, news: [] }
    const [now, then] = await Promise.all([sweep, earlier].map((one) => complaintsOfSweep(this.sequelize, one)))
    const byPage = (found: typeof now) => new Map(found!.map(({ pageId, complaints }) => [pageId, complaints]))
    const news = newComplaints(byPage(now), byPage(then))
    const pages = await PageRow.findAll({ where: { id: [...new Set(news.flatMap((one) => one.pages))] } })
    const byId = new Map(pages.map(({ id, path, title }) => [id, { id, path, title }]))
    return {
      earlierAt: earlier.startedAt.toISOString(),
      news: news.map((one) => ({ ...one, pages: one.pages.flatMap((id) => byId.get(id) ?? []) })),
    }
  }

  async find(page: PageRow, { kind, text }: CauseRequest): Promise<CauseSearch> {
    const [sweep] = await lastTwo(this.sequelize, page.id)
    const heard = await complaintsIn(sweep, page.id)
    if (!sweep || !heard?.some((one) => isSameComplaint(one, { kind, text })))
      throw new ProblemError(409, 'The page did not complain of this when it was read last.')
    try {
      const row = await this.sequelize.transaction(async (transaction) => {
        const { siteId, lensId } = sweep
        const made = await CauseSearchRow.create(
          { siteId, pageId: page.id, lensId: lensId!, kind, text },
          { transaction },
        )
        const job: FindCauseJob = { id: made.id }
        await this.queue.send(FIND_CAUSE, job, { singletonKey: String(made.id), ...within(transaction) })
        return made
      })
      return await this.view(await row.reload())
    } catch (error) {
      if (error instanceof UniqueConstraintError)
        throw new ProblemError(409, 'Something of this page is being looked into already.')
      throw error
    }
  }

  async stop(id: number): Promise<CauseSearch> {
    const row = await CauseSearchRow.findByPk(id)
    if (!row) throw notFound('search')
    await endCause(id, 'stopped', null)
    return this.view(await row.reload())
  }

  private async view(row: CauseSearchRow): Promise<CauseSearch> {
    const [lens, addOns] = await Promise.all([
      LensRow.findByPk(row.lensId, { paranoid: false }),
      AddOnRow.findAll({ where: { siteId: row.siteId }, attributes: ['slug', 'name', 'version', 'features'] }),
    ])
    const [ofAddOns] = row.stages
    const guilty = ofAddOns?.outcome === 'found' ? ofAddOns.found : []
    const bySlug = new Map(addOns.map((addOn) => [addOn.slug, addOn]))
    return {
      id: row.id,
      pageId: row.pageId,
      lens: lens?.name ?? '',
      kind: row.kind,
      text: row.text,
      state: row.state,
      failure: row.failure,
      stages: row.stages.map((stage) => stageView(stage, row, bySlug)),
      place: row.place,
      guilty: guilty.map((slug) => ({
        slug,
        name: nameOf(slug, bySlug),
        version: bySlug.get(slug)?.version ?? null,
      })),
      startedAt: row.startedAt.toISOString(),
      finishedAt: row.finishedAt?.toISOString() ?? null,
    }
  }
}

type AddOns = ReadonlyMap<string, Pick<AddOnRow, 'name' | 'features'>>

const nameOf = (slug: string, addOns: AddOns) => addOns.get(slug)?.name ?? slug.replace(/^(outside|own):/, '')

function stageView(stage: CauseStage, { state, stages }: CauseSearchRow, addOns: AddOns): CauseStageView {
  const next = state === 'running' && stage.outcome === null ? nextOf(stage, SURE) : null
  const features = addOns.get(stages[0]?.found[0] ?? '')?.features ?? []
  const name = (id: string) =>
    stage.level === 'addon'
      ? nameOf(id, addOns)
      : stage.level === 'feature'
        ? (features.find(({ slug }) => slug === id)?.name ?? id)
        : id
  return {
    level: stage.level,
    suspects: stage.suspects,
    names: stage.suspects.map(({ id }) => name(id)),
    tries: stage.tries.map(({ changes, fails, readings = 1 }) => ({ changes: [...changes], fails, readings })),
    asking: next && 'ask' in next ? next.ask : null,
    outcome: stage.outcome,
    found: stage.found,
  }
}
