import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { READ_ON_DEMAND, within, type ReadOnDemandJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import {
  asKind,
  emptyOf,
  OnDemandRow,
  type OnDemand,
  type OnDemandKind,
  type OnDemandKinds,
} from './on-demand.model.js'

interface Subject {
  siteId: number
  pageId: number | null
}

/** Asks workers to read something for somebody who waits for it, and finds what was read. */
@Injectable()
export class OnDemandService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
  ) {}

  /** @param busy What is said where the same is being read already. */
  async start<K extends OnDemandKind>(
    kind: K,
    { siteId, pageId }: Subject,
    wish: OnDemandKinds[K]['wish'],
    busy: string,
  ): Promise<void> {
    try {
      await this.sequelize.transaction(async (transaction) => {
        const row = await OnDemandRow.create({ kind, siteId, pageId, wish, taken: emptyOf(kind) }, { transaction })
        const job: ReadOnDemandJob = { id: row.id }
        await this.queue.send(READ_ON_DEMAND, job, { singletonKey: String(row.id), ...within(transaction) })
      })
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw new ProblemError(409, busy)
      throw error
    }
  }

  /** The same of many pages, for nobody who stands and waits: what is asked for meanwhile comes first. */
  async startMany<K extends OnDemandKind>(
    kind: K,
    { siteId, pageIds }: { siteId: number; pageIds: readonly number[] },
    wish: OnDemandKinds[K]['wish'],
    busy: string,
  ): Promise<void> {
    try {
      await this.sequelize.transaction(async (transaction) => {
        const rows = await OnDemandRow.bulkCreate(
          pageIds.map((pageId) => ({ kind, siteId, pageId, wish, taken: emptyOf(kind) })),
          { transaction },
        )
        await this.queue.insert(
          rows.map(({ id }) => ({
            name: READ_ON_DEMAND,
            data: { id } satisfies ReadOnDemandJob,
            priority: -1,
            singletonKey: String(id),
          })),
          within(transaction),
        )
      })
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw new ProblemError(409, busy)
      throw error
    }
  }

  /** What was read so far stays. Whoever reads it hears of it before the next piece. */
  async stop(id: number): Promise<void> {
    await OnDemandRow.update({ state: 'done', takenAt: new Date() }, { where: { id, state: 'waiting' } })
  }

  async newest<K extends OnDemandKind>(kind: K, subject: Subject, limit = 1): Promise<OnDemand<K>[]> {
    const rows = await OnDemandRow.findAll({ where: { kind, ...subject }, order: [['id', 'desc']], limit })
    return rows.flatMap((row) => asKind(row, kind) ?? [])
  }

  /** @throws ProblemError where the site has no such page. */
  /** Whether anything of this kind was ever read of the site, so that there is something to go into. */
  async hasTaken(kind: OnDemandKind, siteId: number): Promise<boolean> {
    return (await OnDemandRow.findOne({ where: { kind, siteId, state: 'done' }, attributes: ['id'] })) !== null
  }

  async needPage(siteId: number, id: number): Promise<void> {
    if ((await PageRow.count({ where: { siteId, id } })) === 0) throw notFound('page')
  }
}
