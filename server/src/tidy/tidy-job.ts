import type { Job } from '../queue/job.js'
import { TIDY, type TidyJob } from '../queue/queue.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { endTidying, runTidying } from './run-tidying.js'
import { TidyingRow } from './tidying.model.js'

export const tidyJob = (tools: WorkerTools): Job<TidyJob> => ({
  name: TIDY,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  run: (job, hold) => runTidying(tools, job, hold),
  giveUp: ({ id }, why) => endTidying(tools, id, 'failed', why),
  standStill: ({ id }, why) => endTidying(tools, id, 'failed', why),
  unfinished: async () =>
    (await TidyingRow.findAll({ where: { state: 'running' }, attributes: ['id'], order: ['id'] })).map(({ id }) => ({
      data: { id },
    })),
})
