import { Op } from 'sequelize'
import type { Job } from '../queue/job.js'
import { RETIRE, type RetireJob } from '../queue/queue.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { RetirementRow } from './retirement.model.js'
import { endAct, runRetirement } from './run-retirement.js'

export const retireJob = (tools: WorkerTools): Job<RetireJob> => ({
  name: RETIRE,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  run: (job, hold) => runRetirement(tools, job, hold),
  giveUp: ({ id }, why) => endAct(tools, id, why),
  standStill: ({ id }, why) => endAct(tools, id, why),
  unfinished: async () =>
    (await RetirementRow.findAll({ where: { doing: { [Op.ne]: null } }, attributes: ['id'], order: ['id'] })).map(
      ({ id }) => ({ data: { id } }),
    ),
})
