import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { peakMemory, queryGroups, serverSteps, traceLines } from '@unvelt/core'
import type { SlowTraceView, SpanTarget, TasksAndTraces, TaskView, TraceView } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { notFound } from '../problem/problem.error.js'
import { SiteRow } from '../site/site.model.js'
import { spansOf } from './trace-store.js'
import { traceToken } from './trace-token.js'

const MOST_SLOW = 40
const MOST_LINES = 400

interface RootRow extends Omit<SlowTraceView, 'startedAt'> {
  startedAt: Date
}
const ROOT = `trace_id "traceId", kind, name, addon "addOn", started_at "startedAt", ms,
  peak_memory_bytes "peakMemoryBytes", failure`

/** What the traces of a site tell: its scheduled work, and what took it longest. */
@Injectable()
export class TraceService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async target(siteId: number): Promise<SpanTarget> {
    if (!(await SiteRow.findByPk(siteId))) throw notFound('site')
    const [{ newest } = { newest: null }] = await this.sequelize.query<{ newest: Date | null }>(
      'select max(started_at) newest from trace_root where site_id = :siteId',
      { replacements: { siteId }, type: QueryTypes.SELECT },
    )
    const token = traceToken(this.config.secret, siteId)
    return { path: '/v1/traces', token, newestAt: newest?.toISOString() ?? null }
  }

  async ofSite(siteId: number): Promise<TasksAndTraces> {
    return { tasks: await this.tasks(siteId), slowest: await this.slowest(siteId) }
  }

  async one(siteId: number, traceId: string): Promise<TraceView> {
    const [root] = await this.sequelize.query<RootRow>(
      `select ${ROOT} from trace_root where trace_id = :traceId and site_id = :siteId`,
      { replacements: { traceId, siteId }, type: QueryTypes.SELECT },
    )
    if (!root) throw notFound('trace')
    const spans = await spansOf(this.sequelize, traceId)
    const lines = traceLines(spans)
    return {
      root: shown(root),
      spans: lines.slice(0, MOST_LINES),
      more: Math.max(0, lines.length - MOST_LINES),
      work: {
        spans: spans.length,
        steps: serverSteps(spans),
        queries: queryGroups(spans),
        peakMemoryBytes: peakMemory(spans),
        chargedBySpans: false,
        differences: null,
      },
    }
  }

  /** Of each request and task the slowest, those first that took longest. */
  private async slowest(siteId: number): Promise<SlowTraceView[]> {
    const rows = await this.sequelize.query<RootRow>(
      `select * from (select distinct on (kind, name) ${ROOT} from trace_root where site_id = :siteId
       order by kind, name, ms desc) slowest order by ms desc limit ${MOST_SLOW}`,
      { replacements: { siteId }, type: QueryTypes.SELECT },
    )
    return rows.map(shown)
  }

  /** The tasks that the site declares, and those that were seen at work. */
  private async tasks(siteId: number): Promise<TaskView[]> {
    const rows = await this.sequelize.query<Omit<TaskView, 'everySeconds' | 'lastAt'> & { lastAt: Date }>(
      `select name, max(addon) "addOn", count(*)::int runs, count(failure)::int failed,
         (array_agg(failure order by started_at desc) filter (where failure is not null))[1] "lastFailure",
         max(started_at) "lastAt", percentile_cont(0.5) within group (order by ms) "middleMs", max(ms) "mostMs",
         max(peak_memory_bytes) "peakMemoryBytes", (array_agg(trace_id order by ms desc))[1] "slowestTrace"
       from trace_root where site_id = :siteId and kind = 'task' group by name`,
      { replacements: { siteId }, type: QueryTypes.SELECT },
    )
    const runs = rows.map((run): TaskView => ({ ...run, everySeconds: null, lastAt: run.lastAt.toISOString() }))
    const seen = new Map(runs.map((run) => [run.name, run]))
    if ((await SiteRow.count({ where: { id: siteId } })) === 0) throw notFound('site')
    const addOns = await AddOnRow.findAll({ where: { siteId, gone: false }, attributes: ['slug', 'tasks'] })
    const declared = addOns.flatMap(({ slug, tasks }) =>
      tasks.map(({ name, everySeconds }) => ({ name, addOn: slug, everySeconds })),
    )
    const names = new Set(declared.map(({ name }) => name))
    return [
      ...declared.map((task) => ({ ...UNSEEN, ...seen.get(task.name), ...task })),
      ...runs.filter(({ name }) => !names.has(name)),
    ].sort((a, b) => (b.middleMs ?? -1) - (a.middleMs ?? -1) || a.name.localeCompare(b.name))
  }
}

const UNSEEN = {
  runs: 0,
  failed: 0,
  lastFailure: null,
  lastAt: null,
  middleMs: null,
  mostMs: null,
  peakMemoryBytes: null,
  slowestTrace: null,
}

const shown = (root: RootRow): SlowTraceView => ({ ...root, startedAt: root.startedAt.toISOString() })
