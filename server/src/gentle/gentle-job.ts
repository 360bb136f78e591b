import type { Job } from '../queue/job.js'
import { FIND_GENTLEST, type FindGentlestJob } from '../queue/queue.js'
import { RehearsalRow } from '../rehearsal/rehearsal.model.js'
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
  /** One that began with a look at the page of its own waits until that is over. */
  async unfinished() {
    const searches = await GentleSearchRow.findAll({
      where: { state: 'running' },
      attributes: ['id', 'rehearsalId'],
      order: ['id'],
    })
    const reading = await RehearsalRow.findAll({
      where: { id: searches.map(({ rehearsalId }) => rehearsalId), state: 'running' },
      attributes: ['id'],
    })
    const waits = new Set(reading.map(({ id }) => id))
    return searches.filter(({ rehearsalId }) => !waits.has(rehearsalId)).map(({ id }) => ({ data: { id } }))
  },
})
