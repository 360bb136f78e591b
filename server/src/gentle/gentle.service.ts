import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { QueryTypes, Sequelize, UniqueConstraintError } from 'sequelize'
import { gentlerThan } from '@unvelt/core'
import type { GentleSearch } from '@unvelt/contract'
import { CulpritSearchRow } from '../culprit/culprit.model.js'
import { tellRehearsal } from '../events/tell.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { FIND_GENTLEST, type FindGentlestJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { DraftService } from '../rule/draft.service.js'
import { DraftRow } from '../rule/draft.model.js'
import { effectsOf } from '../site/site-effects.js'
import type { SiteRow } from '../site/site.model.js'
import { GentleSearchRow } from './gentle.model.js'
import { loaded } from './loaded.js'
import { endGentle } from './run-gentle.js'

const MOST_LISTED = 100

/** Begins searches for an effect that works where another broke something, and drafts what was found. */
@Injectable()
export class GentleService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    private readonly drafts: DraftService,
  ) {}

  async begin(site: SiteRow, draftId: string): Promise<GentleSearch> {
    const draft = await DraftRow.findOne({ where: { siteId: site.id, id: draftId } })
    if (!draft) throw notFound('draft')
    const culprit = await this.searchThatFound(site.id, draftId)
    if (!culprit) throw new ProblemError(409, 'It was not found yet that this draft breaks anything.')
    if (draft.rule.removed) throw new ProblemError(409, 'By this draft a live rule goes; there is nothing gentler.')
    const effects = gentlerThan(draft.rule, effectsOf(site))
    if (effects.length === 0) throw new ProblemError(409, 'There is no gentler effect that this site can carry out.')
    const { rehearsalId, pageId, lensId } = culprit
    const rehearsal = (await RehearsalRow.findByPk(rehearsalId))!
    const others = new Set(culprit.culprits)
    try {
      const row = await GentleSearchRow.create({
        siteId: site.id,
        rehearsalId,
        pageId,
        lensId,
        draftId,
        drafts: [draft.rule, ...rehearsal.drafts.filter(({ id }) => id !== draftId && others.has(id))],
        effects,
      })
      const job: FindGentlestJob = { id: row.id }
      await this.queue.send(FIND_GENTLEST, job, { singletonKey: String(row.id) })
      await tellRehearsal(this.sequelize, { siteId: site.id, rehearsalId })
      return await this.view(await row.reload())
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw new ProblemError(409, 'It is being looked for already.')
      throw error
    }
  }

  /** The newest search for each draft that is there. */
  async list(siteId: number): Promise<GentleSearch[]> {
    const drafts = await DraftRow.findAll({ where: { siteId }, attributes: ['id'] })
    const rows = await GentleSearchRow.findAll({
      where: { siteId, draftId: drafts.map(({ id }) => id) },
      order: [['id', 'desc']],
      limit: MOST_LISTED,
    })
    const newest = rows.filter((row, n) => rows.findIndex(({ draftId }) => draftId === row.draftId) === n)
    return Promise.all(newest.map((row) => this.view(row)))
  }

  async stop(id: number): Promise<GentleSearch> {
    const row = await this.find(id)
    await endGentle({ sequelize: this.sequelize }, id, 'stopped', null)
    return this.view(await row.reload())
  }

  /** Drafts what was found in the place of what broke something. */
  async take(site: SiteRow, id: number): Promise<GentleSearch> {
    const row = await this.find(id)
    const found = row.tries.find(({ fails }) => !fails)
    if (!found) throw new ProblemError(409, 'Nothing was found that could be drafted.')
    const { effect, until, order } = found
    await this.drafts.change(site, row.draftId, { effect, ...(until && { until }), ...(order && { order }) })
    await this.drafts.bringBack(row.siteId, row.draftId)
    return this.view(row)
  }

  private async searchThatFound(siteId: number, draftId: string): Promise<CulpritSearchRow | null> {
    const [found] = await this.sequelize.query<{ id: number }>(
      `select culprit_search.id from culprit_search join rehearsal on rehearsal.id = rehearsal_id
       where site_id = :siteId and culprits @> :wanted::jsonb order by culprit_search.id desc limit 1`,
      { replacements: { siteId, wanted: JSON.stringify([draftId]) }, type: QueryTypes.SELECT },
    )
    return found ? CulpritSearchRow.findByPk(found.id) : null
  }

  async find(id: number): Promise<GentleSearchRow> {
    const row = await GentleSearchRow.findByPk(id)
    if (!row) throw notFound('search')
    return row
  }

  private async view(row: GentleSearchRow): Promise<GentleSearch> {
    const { rehearsalId, pageId, lensId } = row
    const [page, lens, view] = await Promise.all([
      PageRow.findByPk(pageId),
      LensRow.findByPk(lensId, { paranoid: false }),
      RehearsalPageRow.findOne({ where: { rehearsalId, pageId, lensId } }),
    ])
    const of = (side: 'with' | 'without') =>
      loaded(
        (view?.readings ?? []).filter((reading) => reading.side === side && reading.look).map(({ figures }) => figures),
      )
    return {
      id: row.id,
      draftId: row.draftId,
      path: page?.path ?? '',
      lens: lens?.name ?? '',
      state: row.state,
      failure: row.failure,
      effects: row.effects,
      tries: row.tries,
      found: row.tries.find(({ fails }) => !fails) ?? null,
      without: of('without'),
      asItWas: of('with'),
      startedAt: row.startedAt.toISOString(),
      finishedAt: row.finishedAt?.toISOString() ?? null,
    }
  }
}
