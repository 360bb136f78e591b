import type { Job } from '../queue/job.js'
import { RESTORE, type RestoreJob } from '../queue/queue.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { endRestore, runRestore } from './run-restore.js'
import { SiteRestoreRow } from './site-restore.model.js'

export const restoreJob = (tools: WorkerTools): Job<RestoreJob> => ({
  name: RESTORE,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  run: (job, hold) => runRestore(tools, job, hold),
  giveUp: ({ id }, why) => endRestore(tools, id, 'failed', why),
  standStill: ({ id }, why) => endRestore(tools, id, 'failed', why),
  unfinished: async () =>
    (await SiteRestoreRow.findAll({ where: { state: 'running' }, attributes: ['id'], order: ['id'] })).map(
      ({ id }) => ({ data: { id } }),
    ),
})
