import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Sequelize, UniqueConstraintError, type CreationAttributes } from 'sequelize'
import { isSameComplaint } from '@unvelt/core'
import type { CauseRequest, CauseSearch, GuardCauseRequest, RoundCauses } from '@unvelt/contract'
import type { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { FIND_CAUSE, within, type FindCauseJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { endCause } from './cause-job.js'
import { causeView } from './cause-view.js'
import { CauseSearchRow } from './cause.model.js'
import { changedSince } from './changed-since.js'
import { complaintsIn, lastTwo } from './page-history.js'

const MOST_SEARCHES = 10
const MOST_OF_ROUND = 100
const LONGEST_TEXT = 500

/** Searches for what causes what is wrong with a live page. The looking is a job (run-cause.ts). */
@Injectable()
export class CauseService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
  ) {}

  async ofPage(pageId: number): Promise<CauseSearch[]> {
    const rows = await CauseSearchRow.findAll({ where: { pageId }, order: [['id', 'desc']], limit: MOST_SEARCHES })
    return Promise.all(rows.map(causeView))
  }

  async ofRound(roundId: number): Promise<RoundCauses> {
    const [changed, rows] = await Promise.all([
      changedSince(await roundOf(roundId)),
      CauseSearchRow.findAll({ where: { roundId }, order: [['id', 'desc']], limit: MOST_OF_ROUND }),
    ])
    return { changed, searches: await Promise.all(rows.map(causeView)) }
  }

  /** For what a page complained of when it was read last. */
  async findOfPage(page: PageRow, { kind, text }: CauseRequest): Promise<CauseSearch> {
    const [sweep] = await lastTwo(this.sequelize, page.id)
    const heard = await complaintsIn(sweep, page.id)
    if (!sweep || !heard?.some((one) => isSameComplaint(one, { kind, text })))
      throw new ProblemError(409, 'The page did not complain of this when it was read last.')
    return this.begin({ siteId: sweep.siteId, pageId: page.id, lensId: sweep.lensId!, kind, text })
  }

  /** For what a guard found in a round on the live site. */
  async findOfGuard(roundId: number, { pageId, lensId, guard }: GuardCauseRequest): Promise<CauseSearch> {
    const round = await roundOf(roundId)
    if (round.state === 'running') throw new ProblemError(409, 'This round is still under way.')
    const view = await RehearsalPageRow.findOne({ where: { rehearsalId: roundId, pageId, lensId } })
    const result = view?.guards.find((one) => one.guard === guard)
    if (result?.outcome !== 'fails') throw new ProblemError(409, 'This guard did not fail on this page in this round.')
    const [sweep] = await lastTwo(this.sequelize, pageId)
    if (!sweep)
      throw new ProblemError(409, 'No sweep has read this page, so nobody knows what it loads. Start one of it first.')
    const { gone, came, size } = result
    const text = [...gone, ...came].join('; ').slice(0, LONGEST_TEXT)
    const found = { guard, gone, came, ...(size !== undefined && { size }) }
    return this.begin({ siteId: round.siteId, pageId, lensId, kind: 'guard', text, roundId, found })
  }

  private async begin(attributes: CreationAttributes<CauseSearchRow>): Promise<CauseSearch> {
    try {
      const row = await this.sequelize.transaction(async (transaction) => {
        const made = await CauseSearchRow.create(attributes, { transaction })
        const job: FindCauseJob = { id: made.id }
        await this.queue.send(FIND_CAUSE, job, { singletonKey: String(made.id), ...within(transaction) })
        return made
      })
      return await causeView(await row.reload())
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
    return causeView(await row.reload())
  }
}

async function roundOf(id: number): Promise<RehearsalRow> {
  const round = await RehearsalRow.findByPk(id)
  if (!round?.isRound) throw notFound('round')
  return round
}
