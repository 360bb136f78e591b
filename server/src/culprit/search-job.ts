import { tellRehearsal } from '../events/tell.js'
import type { Job } from '../queue/job.js'
import { FIND_CULPRIT, type FindCulpritJob } from '../queue/queue.js'
import { RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { CulpritSearchRow } from './culprit.model.js'
import { goOn, type CulpritTools } from './next-round.js'
import { runSearch } from './run-search.js'

export const culpritJob = (tools: CulpritTools): Job<FindCulpritJob> => ({
  name: FIND_CULPRIT,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  async run(job, hold) {
    if (!(await runSearch(tools, job, hold))) return
    const search = (await CulpritSearchRow.findByPk(job.id))!
    if (search.goesOn) await goOn(tools, search)
    await end(tools, job.id, 'done', null)
  },
  giveUp: ({ id }, why) => end(tools, id, 'failed', why),
  standStill: ({ id }, why) => end(tools, id, 'failed', why),
  unfinished: async () =>
    (await CulpritSearchRow.findAll({ where: { state: 'running' }, attributes: ['id'], order: ['id'] })).map(
      ({ id }) => ({ data: { id } }),
    ),
})

export async function end(
  { sequelize }: Pick<CulpritTools, 'sequelize'>,
  id: number,
  state: 'done' | 'stopped' | 'failed',
  failure: string | null,
): Promise<void> {
  const search = await CulpritSearchRow.findByPk(id)
  if (search?.state !== 'running') return
  await search.update({ state, finishedAt: new Date(), ...(failure !== null && { failure }) })
  const { siteId } = (await RehearsalRow.findByPk(search.rehearsalId))!
  await tellRehearsal(sequelize, { siteId, rehearsalId: search.rehearsalId })
}
