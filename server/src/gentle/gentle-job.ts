import type { Job } from '../queue/job.js'
import { FIND_GENTLEST, type FindGentlestJob } from '../queue/queue.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { GentleSearchRow } from './gentle.model.js'
import { endGentle, runGentle } from './run-gentle.js'

export const gentleJob = (tools: WorkerTools): Job<FindGentlestJob> => ({
  name: FIND_GENTLEST,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  run: (job, hold) => runGentle(tools, job, hold),
  giveUp: ({ id }, why) => endGentle(tools, id, 'failed', why),
  standStill: ({ id }, why) => endGentle(tools, id, 'failed', why),
  unfinished: async () =>
    (await GentleSearchRow.findAll({ where: { state: 'running' }, attributes: ['id'], order: ['id'] })).map(
      ({ id }) => ({ data: { id } }),
    ),
})
