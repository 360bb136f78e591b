import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { QueryTypes, Sequelize } from 'sequelize'
import { median, summariseServer } from '@unvelt/core'
import type { ActionView, ActionsView } from '@unvelt/contract'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { ACTIONS, type ActionsJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { SiteRow } from '../site/site.model.js'
import { ActionRow, type TriedAction } from './action.model.js'

interface Root {
  traceId: string
  ms: number
  peakMemoryBytes: number | null
}

/** What the server does when somebody searches, posts or saves: tried for real, and taken back by the site itself. */
@Injectable()
export class ActionService {
  constructor(
    @Inject(QUEUE) private readonly queue: PgBoss,
    @Inject(Sequelize) private readonly sequelize: Sequelize,
  ) {}

  async start(siteId: number, times: number): Promise<ActionsView> {
    const cannot = cannotTry(await this.siteOf(siteId))
    if (cannot) throw new ProblemError(409, cannot)
    if ((await ActionRow.count({ where: { siteId, state: 'waiting' } })) > 0)
      throw new ProblemError(409, 'The actions of this site are being tried already.')
    const row = await ActionRow.create({ siteId, wanted: times })
    await this.queue.send(ACTIONS, { id: row.id } satisfies ActionsJob)
    return this.newest(siteId)
  }

  async newest(siteId: number): Promise<ActionsView> {
    const cannot = cannotTry(await this.siteOf(siteId))
    const row = await ActionRow.findOne({ where: { siteId }, order: [['id', 'desc']] })
    if (!row) return { cannot, underWay: 0, takenAt: null, failure: null, actions: [] }
    const done = row.actions.reduce((sum, { readings }) => sum + readings.length, 0)
    // Before the site has said which actions it takes, their number is not known.
    const planned = Math.max(1, row.actions.length) * row.wanted
    return {
      cannot,
      underWay: row.state === 'done' ? 0 : planned - done,
      takenAt: row.state === 'done' ? row.takenAt.toISOString() : null,
      failure: row.failure,
      actions: await Promise.all(row.actions.map((action) => this.view(action))),
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
