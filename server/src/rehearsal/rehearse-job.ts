import type { Job } from '../queue/job.js'
import { REHEARSE, type RehearseJob } from '../queue/queue.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { RehearsalRow } from './rehearsal.model.js'
import { endRehearsal, runRehearsal } from './run-rehearsal.js'

export const rehearseJob = (tools: WorkerTools): Job<RehearseJob> => ({
  name: REHEARSE,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  run: (job, hold) => runRehearsal(tools, job, hold),
  giveUp: ({ id }, why) => endRehearsal(tools.sequelize, id, 'failed', why),
  standStill: ({ id }, why) => endRehearsal(tools.sequelize, id, 'failed', why),
  unfinished: async () =>
    (await RehearsalRow.findAll({ where: { state: 'running' }, attributes: ['id'], order: ['id'] })).map(({ id }) => ({
      data: { id },
    })),
})
