import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import type { Rehearsal, RoundRequest } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { tellRehearsal } from '../events/tell.js'
import { LensRow, visitOf } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { REHEARSE, within, type RehearseJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { DeploymentRow } from '../rule/deployment/deployment.model.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import type { SiteRow } from '../site/site.model.js'
import { asBefore, copyPictures, seenBefore } from './live-round.js'
import { lensesOfRound, pagesOfRound } from './live-round-plan.js'
import { forgetOldPictures } from './picture-store.js'
import { RehearsalPageRow, RehearsalRow } from './rehearsal.model.js'
import { RehearsalService } from './rehearsal.service.js'

/** Plays the guards on the live site as it is, with no draft at all. A round is carried as a rehearsal is (run-rehearsal.ts). */
@Injectable()
export class LiveRoundService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    private readonly live: LiveRulesService,
    private readonly rehearsals: RehearsalService,
  ) {}

  async start(site: SiteRow, { pageIds }: RoundRequest): Promise<Rehearsal> {
    if ((await DeploymentRow.count({ where: { siteId: site.id, finishedAt: null } })) > 0)
      throw new ProblemError(409, 'A change of this site’s rules is under way; its guards are played once it is live.')
    const views = await this.viewsOf(site, pageIds)
    if (views.length === 0) throw new ProblemError(409, 'There is no page that a lens can see.')
    const current = await this.live.current(site.id)
    const before = await seenBefore(this.sequelize, site.id)
    const known = views.flatMap(({ pageId, lensId }) => before.get(`${pageId} ${lensId}`) ?? [])
    const addOns = await AddOnRow.findAll({
      where: { siteId: site.id, active: true, gone: false },
      attributes: ['slug', 'version'],
    })
    try {
      const round = await this.sequelize.transaction(async (transaction) => {
        const created = await RehearsalRow.create(
          {
            siteId: site.id,
            isRound: true,
            against: known.length === 0 ? null : Math.max(...known.map(({ rehearsalId }) => rehearsalId)),
            what: 'the live site as it is',
            mode: 'guards',
            liveVersion: current.version,
            liveRules: current.rules,
            drafts: [],
            versions: Object.fromEntries(addOns.map(({ slug, version }) => [slug, version ?? ''])),
            prediction: {},
            mechanism: 'live',
          },
          { transaction },
        )
        await RehearsalPageRow.bulkCreate(
          views.map(({ pageId, lensId }, position) => ({
            rehearsalId: created.id,
            pageId,
            lensId,
            position,
            readings: asBefore(before.get(`${pageId} ${lensId}`)),
          })),
          { transaction },
        )
        for (const seen of known) await copyPictures(this.sequelize, created.id, seen, transaction)
        await forgetOldPictures(this.sequelize, site.id, transaction)
        const job: RehearseJob = { id: created.id }
        await this.queue.send(REHEARSE, job, { singletonKey: String(created.id), ...within(transaction) })
        return created.reload({ transaction })
      })
      return await this.rehearsals.get(round.id)
    } catch (error) {
      if (error instanceof UniqueConstraintError)
        throw new ProblemError(409, 'A rehearsal of this site is under way; the guards can be played once it is over.')
      throw error
    }
  }

  /** Somebody has looked at a round and says that the site is as it should be; later ones are held against it. */
  async takeAsSound(id: number): Promise<Rehearsal> {
    const round = await RehearsalRow.findByPk(id)
    if (!round?.isRound) throw notFound('round')
    if (round.state !== 'done') throw new ProblemError(409, 'This round has not come to its end.')
    await round.update({ sound: true })
    await tellRehearsal(this.sequelize, { siteId: round.siteId, rehearsalId: id })
    return this.rehearsals.get(id)
  }

  private async viewsOf(site: SiteRow, pageIds: number[] | undefined): Promise<{ pageId: number; lensId: number }[]> {
    const pages = (await PageRow.findAll({ where: { siteId: site.id, gone: false }, order: ['position'] })).map(
      ({ id, kind, area, signedIn, importedViews, views }) => ({
        id,
        kind,
        area,
        signedIn,
        views: importedViews ?? views,
      }),
    )
    if (pageIds?.some((id) => !pages.some((page) => page.id === id))) throw notFound('page')
    const lenses = (await LensRow.findAll({ where: { siteId: site.id }, order: ['id'] })).map((row) => ({
      id: row.id,
      visit: visitOf(row),
      isCold: row.settings.cache === 'cold',
    }))
    return pagesOfRound(pages, pageIds, site.id).flatMap((page) =>
      lensesOfRound(page, lenses).map(({ id }) => ({ pageId: page.id, lensId: id })),
    )
  }
}
