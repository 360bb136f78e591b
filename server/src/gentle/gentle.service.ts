import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { QueryTypes, Sequelize, UniqueConstraintError } from 'sequelize'
import { gentlerThan, sparesMost } from '@unvelt/core'
import type { GentleSearch } from '@unvelt/contract'
import { CulpritSearchRow } from '../culprit/culprit.model.js'
import { tellRehearsal } from '../events/tell.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { FIND_GENTLEST, type FindGentlestJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { DraftService } from '../rule/draft.service.js'
import { DraftRow } from '../rule/draft.model.js'
import { effectsOf } from '../site/site-effects.js'
import type { SiteRow } from '../site/site.model.js'
import { BestEffectService } from './best-effect.service.js'
import { filesToTry } from './files-to-try.js'
import { GentleSearchRow } from './gentle.model.js'
import { gentleView } from './gentle-view.js'
import { endGentle, withEffect } from './run-gentle.js'

const MOST_LISTED = 100

/** Begins searches for an effect that works where another broke something, and drafts what was found. */
@Injectable()
export class GentleService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    private readonly drafts: DraftService,
    private readonly best: BestEffectService,
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
        files: await filesToTry(this.sequelize, site.id, pageId, draft.rule.addon),
      })
      const job: FindGentlestJob = { id: row.id }
      await this.queue.send(FIND_GENTLEST, job, { singletonKey: String(row.id) })
      await tellRehearsal(this.sequelize, { siteId: site.id, rehearsalId })
      return await gentleView(await row.reload())
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
    return Promise.all(newest.map((row) => gentleView(row)))
  }

  async stop(id: number): Promise<GentleSearch> {
    const row = await this.find(id)
    if (row.addon === null) await endGentle({ sequelize: this.sequelize }, id, 'stopped', null)
    else await this.best.stop(row)
    return gentleView(await row.reload())
  }

  /** Drafts what was found in the place of what broke something. */
  async take(site: SiteRow, id: number): Promise<GentleSearch> {
    const row = await this.find(id)
    const found = sparesMost(row.tries)
    if (!found || row.addon !== null) throw new ProblemError(409, 'Nothing was found that could be drafted.')
    const { effect, until, order, files } = found
    if (files) {
      const draft = await DraftRow.findOne({ where: { siteId: site.id, id: row.draftId } })
      if (!draft) throw notFound('draft')
      const { id: _, made: __, madeFor: ___, ...rule } = withEffect(draft.rule, { effect })
      await this.drafts.add(
        site,
        files.map((file) => ({ ...rule, file })),
      )
      await this.drafts.remove(site.id, row.draftId)
    } else {
      await this.drafts.change(site, row.draftId, { effect, ...(until && { until }), ...(order && { order }) })
      await this.drafts.bringBack(row.siteId, row.draftId)
    }
    return gentleView(row)
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
}
