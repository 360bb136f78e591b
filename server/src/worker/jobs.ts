import { OnDemandRow } from '../on-demand/on-demand.model.js'
import type { Job } from '../queue/job.js'
import {
  READ_ON_DEMAND,
  READ_PAGE,
  RECOMPUTE,
  TAKE_SPANS,
  type ReadOnDemandJob,
  type ReadPageJob,
  type RecomputeJob,
  type TakeSpansJob,
} from '../queue/queue.js'
import { pagesWithSpans } from '../reading/mark-spans.js'
import { storeFailure } from '../reading/reading-store.js'
import { ReadingRow } from '../reading/reading.model.js'
import { nextPriority } from '../sweep/fair-order.js'
import { finishEnded, finishSweep, openPages, setPageState, standStill } from '../sweep/sweep-progress.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { runPageJob } from './page-job.js'
import { endOnDemand, runReadOnDemand } from './read-on-demand.js'
import { endRecomputing, runRecomputeJob } from './recompute-job.js'
import { runTakeSpansJob } from './take-spans-job.js'
import type { WorkerTools } from './worker-tools.js'

/** Of several pages, what gives no times overlaps (steps above all); what gives times never does. */
export const pageJob = (tools: WorkerTools, atATime: number): Job<ReadPageJob> => ({
  name: READ_PAGE,
  atATime,
  keyOf: ({ sweepId, pageId }) => `${sweepId}/${pageId}`,
  run: (job, hold) => runPageJob(tools, job, hold),
  async giveUp(job, why) {
    const sweep = await SweepRow.findByPk(job.sweepId)
    if (!sweep) return
    for (let repeat = 1; repeat <= sweep.repeats; repeat++)
      for (const { name: variant } of sweep.variants) await storeFailure({ ...job, variant, repeat }, why)
    await setPageState(tools.sequelize, job, 'failed')
    await finishSweep(tools.sequelize, job.sweepId)
  },
  standStill: ({ sweepId }, why) => standStill(tools.sequelize, sweepId, why),
  async unfinished() {
    await finishEnded(tools.sequelize)
    const pages = await openPages(tools.sequelize)
    const bySweep = new Map<number, number>()
    const found: { data: ReadPageJob; priority: number }[] = []
    for (const { urgent, ...data } of pages) {
      const at = bySweep.get(data.sweepId) ?? (await nextPriority(tools.sequelize, { urgent }))
      bySweep.set(data.sweepId, at - 1)
      found.push({ data, priority: at })
    }
    return found
  },
})

export const recomputeJob = (tools: WorkerTools): Job<RecomputeJob> => ({
  name: RECOMPUTE,
  atATime: 1,
  keyOf: ({ sweepId }) => String(sweepId),
  run: (job, hold) => runRecomputeJob(tools, job, hold),
  async giveUp({ sweepId }) {
    const sweep = await SweepRow.findByPk(sweepId)
    if (sweep) await endRecomputing(tools.sequelize, sweep)
  },
  // It is found again as long as it is to be done.
  standStill: async () => {},
  unfinished: async () =>
    (await SweepRow.findAll({ where: { recomputing: true }, attributes: ['id'], order: [['id', 'desc']] })).map(
      ({ id }) => ({ data: { sweepId: id } }),
    ),
})

export const takeSpansJob = (tools: WorkerTools): Job<TakeSpansJob> => ({
  name: TAKE_SPANS,
  atATime: 1,
  keyOf: ({ sweepId, pageId }) => `${sweepId}/${pageId}`,
  run: (job, hold) => runTakeSpansJob(tools, job, hold),
  // The page stays as it was.
  giveUp: async (job) => void (await ReadingRow.update({ spansWait: false }, { where: { ...job } })),
  standStill: async () => {},
  unfinished: async () => (await pagesWithSpans(tools.sequelize)).map((data) => ({ data })),
})

export const onDemandJob = (tools: WorkerTools): Job<ReadOnDemandJob> => ({
  name: READ_ON_DEMAND,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  run: (job, hold) => runReadOnDemand(tools, job, hold),
  giveUp: ({ id }, why) => endOnDemand(id, why),
  standStill: ({ id }, why) => endOnDemand(id, why),
  unfinished: async () =>
    (await OnDemandRow.findAll({ where: { state: 'waiting' }, attributes: ['id'], order: ['id'] })).map(({ id }) => ({
      data: { id },
    })),
})
