import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import type { CulpritRequest, RehearsalSheet } from '@unvelt/contract'
import { tellRehearsal } from '../events/tell.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { FIND_CULPRIT, type FindCulpritJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { RehearsalService } from '../rehearsal/rehearsal.service.js'
import { DraftService } from '../rule/draft.service.js'
import { CulpritSearchRow } from './culprit.model.js'
import { reasonOf } from './next-round.js'
import { end } from './search-job.js'
import { beginSearch, searchesFor, thingsToFind } from './searches-for.js'

/** Looks for the drafts that break a guard, and sets them aside. The looking is a job (run-search.ts). */
@Injectable()
export class CulpritService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    private readonly rehearsals: RehearsalService,
    private readonly drafts: DraftService,
  ) {}

  async find(rehearsalId: number, { pageId, lensId, guard }: CulpritRequest): Promise<RehearsalSheet> {
    const rehearsal = await RehearsalRow.findByPk(rehearsalId)
    const view = await RehearsalPageRow.findOne({ where: { rehearsalId, pageId, lensId } })
    const [page, lens] = await Promise.all([PageRow.findByPk(pageId), LensRow.findByPk(lensId)])
    if (!rehearsal || !view || !page || !lens) throw notFound('page of this rehearsal')
    if (rehearsal.retirementId !== null)
      throw new ProblemError(409, 'It was rehearsed without one add-on, so there is nothing to choose from.')
    if (rehearsal.state === 'running') throw new ProblemError(409, 'The rehearsal is still under way.')
    const failing = view.guards.find((result) => result.guard === guard && result.outcome === 'fails')
    if (!failing) throw new ProblemError(409, 'That guard does not fail on this page.')
    try {
      const search = await beginSearch(this.sequelize, rehearsal, { page, lens, guard: failing }, false)
      const job: FindCulpritJob = { id: search.id }
      await this.queue.send(FIND_CULPRIT, job, { singletonKey: String(search.id) })
    } catch (error) {
      if (!(error instanceof UniqueConstraintError)) throw error
    }
    await tellRehearsal(this.sequelize, { siteId: rehearsal.siteId, rehearsalId })
    return this.rehearsals.sheet(rehearsalId)
  }

  /**
   * Looks for all that breaks a guard, sets it aside as it is found, and rehearses the rest, round by round until it passes. What was
   * found by hand before is set aside without being looked for again.
   */
  async sortOut(rehearsalId: number): Promise<RehearsalSheet> {
    const rehearsal = await RehearsalRow.findByPk(rehearsalId)
    if (!rehearsal || rehearsal.isRound) throw notFound('rehearsal')
    if (rehearsal.retirementId !== null || rehearsal.effectOf !== null || rehearsal.deploymentId !== null)
      throw new ProblemError(409, 'It was not rehearsed as drafts that could be set aside.')
    if (rehearsal.state !== 'done') throw new ProblemError(409, 'The rehearsal has not come to its end.')
    if (rehearsal.best) throw new ProblemError(409, 'What breaks here is being set aside already, or has been.')
    if ((await thingsToFind(rehearsal)).length === 0)
      throw new ProblemError(409, 'No guard fails that nobody accepted.')
    await this.sequelize.transaction(async (transaction) => {
      await rehearsal.update({ best: { round: 1, after: null } }, { transaction })
      // A search that is over has all its answers, so that it ends at once with what it found; of several of one thing the newest counts.
      const searches = await CulpritSearchRow.findAll({ where: { rehearsalId }, order: [['id', 'desc']], transaction })
      const isSame = (a: CulpritSearchRow, b: CulpritSearchRow) =>
        a.pageId === b.pageId && a.lensId === b.lensId && a.guard === b.guard
      for (const search of searches.filter((one, n) => searches.findIndex((other) => isSame(one, other)) === n))
        await search.update({ goesOn: true, state: 'running', finishedAt: null, failure: null }, { transaction })
    })
    await searchesFor(this.sequelize, rehearsal)
    for (const { id } of await CulpritSearchRow.findAll({ where: { rehearsalId, state: 'running' } })) {
      const job: FindCulpritJob = { id }
      await this.queue.send(FIND_CULPRIT, job, { singletonKey: String(id) })
    }
    await tellRehearsal(this.sequelize, { siteId: rehearsal.siteId, rehearsalId })
    return this.rehearsals.sheet(rehearsalId)
  }

  async stop(id: number): Promise<RehearsalSheet> {
    const search = await this.search(id)
    await end({ sequelize: this.sequelize }, search.id, 'stopped', null)
    return this.rehearsals.sheet(search.rehearsalId)
  }

  /** What was found goes live by nobody until it is brought back. */
  async setAside(id: number): Promise<RehearsalSheet> {
    const search = await this.search(id)
    if (!search.culprits) throw new ProblemError(409, 'Nothing has been found yet that could be set aside.')
    const rehearsal = (await RehearsalRow.findByPk(search.rehearsalId))!
    await this.drafts.setAside(rehearsal.siteId, search.culprits, await reasonOf(rehearsal, search))
    await tellRehearsal(this.sequelize, { siteId: rehearsal.siteId, rehearsalId: rehearsal.id })
    return this.rehearsals.sheet(search.rehearsalId)
  }

  private async search(id: number): Promise<CulpritSearchRow> {
    const search = await CulpritSearchRow.findByPk(id)
    if (!search) throw notFound('search')
    return search
  }
}
