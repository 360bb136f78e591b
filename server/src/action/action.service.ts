import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { median, summariseServer } from '@unvelt/core'
import type { ActionView, ActionsView } from '@unvelt/contract'
import { notFound, ProblemError } from '../problem/problem.error.js'
import type { TriedAction } from '../on-demand/on-demand.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import { SiteRow } from '../site/site.model.js'

interface Root {
  traceId: string
  ms: number
  peakMemoryBytes: number | null
}

/** What the server does when somebody searches, posts or saves: tried for real, and taken back by the site itself. */
@Injectable()
export class ActionService {
  constructor(
    private readonly onDemand: OnDemandService,
    @Inject(Sequelize) private readonly sequelize: Sequelize,
  ) {}

  async start(siteId: number, times: number): Promise<ActionsView> {
    const cannot = cannotTry(await this.siteOf(siteId))
    if (cannot) throw new ProblemError(409, cannot)
    const subject = { siteId, pageId: null }
    await this.onDemand.start('actions', subject, { times }, 'The actions of this site are being tried already.')
    return this.newest(siteId)
  }

  async newest(siteId: number): Promise<ActionsView> {
    const cannot = cannotTry(await this.siteOf(siteId))
    const [row] = await this.onDemand.newest('actions', { siteId, pageId: null })
    if (!row) return { cannot, underWay: 0, takenAt: null, failure: null, actions: [] }
    const done = row.taken.reduce((sum, { readings }) => sum + readings.length, 0)
    // Before the site has said which actions it takes, their number is not known.
    const planned = Math.max(1, row.taken.length) * row.wish.times
    return {
      cannot,
      underWay: row.state === 'done' ? 0 : planned - done,
      takenAt: row.state === 'done' ? row.takenAt.toISOString() : null,
      failure: row.failure,
      actions: await Promise.all(row.taken.map((action) => this.view(action))),
    }
  }

  private async view({ name, method, path, as, readings, traceIds }: TriedAction): Promise<ActionView> {
    const roots =
      traceIds.length === 0
        ? []
        : await this.sequelize.query<Root>(
            `select trace_id "traceId", ms, peak_memory_bytes "peakMemoryBytes" from trace_root
             where trace_id in (:traceIds) order by ms desc`,
            { replacements: { traceIds }, type: QueryTypes.SELECT },
          )
    const memory = roots.flatMap(({ peakMemoryBytes }) => peakMemoryBytes ?? [])
    const refused = readings.find(({ status }) => status >= 400 || status < 200)
    const { fresh, kept, failed } = summariseServer(readings)
    return {
      name,
      method,
      path,
      as,
      work: fresh ?? kept,
      peakMemoryBytes: memory.length > 0 ? median(memory) : null,
      failed,
      failure: refused ? `The site answered ${refused.status}.` : null,
      slowestTrace: roots[0]?.traceId ?? null,
    }
  }

  private async siteOf(id: number): Promise<SiteRow> {
    const site = await SiteRow.findByPk(id)
    if (!site) throw notFound('site')
    return site
  }
}

function cannotTry({ name, connector }: SiteRow): string | null {
  if (!connector) return `${name} has no connector, so nothing can be tried on it without being meant.`
  const tells = connector.calls?.includes('GET /actions') && connector.measuring?.trials
  return tells ? null : `The connector of ${name} can’t try a form without meaning it.`
}
