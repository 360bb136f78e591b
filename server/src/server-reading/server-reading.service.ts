import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { summariseServer } from '@unvelt/core'
import type { ServerReadings } from '@unvelt/contract'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { SERVER_READING, type ServerReadingJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { ServerReadingRow } from './server-reading.model.js'

/** Pages asked for many times without a browser: how long the server takes, made afresh and out of its caches. */
@Injectable()
export class ServerReadingService {
  constructor(@Inject(QUEUE) private readonly queue: PgBoss) {}

  async start(siteId: number, pageId: number, times: number): Promise<ServerReadings> {
    await this.pageOf(siteId, pageId)
    const waiting = await ServerReadingRow.count({ where: { pageId, state: 'waiting' } })
    if (waiting > 0) throw new ProblemError(409, 'The server is being asked for this page already.')
    const row = await ServerReadingRow.create({ pageId, wanted: times })
    await this.queue.send(SERVER_READING, { id: row.id } satisfies ServerReadingJob)
    return this.newest(siteId, pageId)
  }

  async newest(siteId: number, pageId: number): Promise<ServerReadings> {
    await this.pageOf(siteId, pageId)
    const row = await ServerReadingRow.findOne({ where: { pageId }, order: [['id', 'desc']] })
    if (!row)
      return { underWay: 0, takenAt: null, fresh: null, kept: null, keptBecause: null, failed: 0, failure: null }
    return {
      underWay: row.state === 'done' ? 0 : 2 * row.wanted - row.readings.length,
      takenAt: row.state === 'done' ? row.takenAt.toISOString() : null,
      ...summariseServer(row.readings),
      failure: row.failure,
    }
  }

  private async pageOf(siteId: number, id: number): Promise<void> {
    if ((await PageRow.count({ where: { siteId, id } })) === 0) throw notFound('page')
  }
}
