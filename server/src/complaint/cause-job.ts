import type { Job } from '../queue/job.js'
import { FIND_CAUSE, type FindCauseJob } from '../queue/queue.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { CauseSearchRow } from './cause.model.js'
import { runCause } from './run-cause.js'

export const causeJob = (tools: WorkerTools): Job<FindCauseJob> => ({
  name: FIND_CAUSE,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  async run(job, hold) {
    if (await runCause(tools, job, hold)) await endCause(job.id, 'done', null)
  },
  giveUp: ({ id }, why) => endCause(id, 'failed', why),
  standStill: ({ id }, why) => endCause(id, 'failed', why),
  unfinished: async () =>
    (await CauseSearchRow.findAll({ where: { state: 'running' }, attributes: ['id'], order: ['id'] })).map(
      ({ id }) => ({ data: { id } }),
    ),
})

export async function endCause(
  id: number,
  state: 'done' | 'stopped' | 'failed',
  failure: string | null,
): Promise<void> {
  const search = await CauseSearchRow.findByPk(id)
  if (search?.state !== 'running') return
  await search.update({ state, finishedAt: new Date(), ...(failure !== null && { failure }) })
}
