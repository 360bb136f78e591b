import { Injectable } from '@nestjs/common'
import { summariseServer } from '@unvelt/core'
import type { ServerReadings } from '@unvelt/contract'
import { OnDemandService } from '../on-demand/on-demand.service.js'

/** Pages asked for many times without a browser: how long the server takes, made afresh and out of its caches. */
@Injectable()
export class ServerReadingService {
  constructor(private readonly onDemand: OnDemandService) {}

  async start(siteId: number, pageId: number, times: number): Promise<ServerReadings> {
    await this.onDemand.needPage(siteId, pageId)
    await this.onDemand.start(
      'server',
      { siteId, pageId },
      { times },
      'The server is being asked for this page already.',
    )
    return this.newest(siteId, pageId)
  }

  async newest(siteId: number, pageId: number): Promise<ServerReadings> {
    await this.onDemand.needPage(siteId, pageId)
    const [row] = await this.onDemand.newest('server', { siteId, pageId })
    if (!row)
      return { underWay: 0, takenAt: null, fresh: null, kept: null, keptBecause: null, failed: 0, failure: null }
    return {
      underWay: row.state === 'done' ? 0 : 2 * row.wish.times - row.taken.length,
      takenAt: row.state === 'done' ? row.takenAt.toISOString() : null,
      ...summariseServer(row.taken),
      failure: row.failure,
    }
  }
}
