import { tellSweep } from '../events/tell.js'
import type { Hold } from '../queue/job.js'
import type { TakeSpansJob } from '../queue/queue.js'
import { storeTolls } from '../reading/reading-store.js'
import { takeSpans } from '../reading/take-spans.js'
import { isCompared, SweepRow } from '../sweep/sweep.model.js'
import { isPageOpen } from '../sweep/sweep-progress.js'
import type { WorkerTools } from './worker-tools.js'

/** Works a page out anew by spans that came after it was read. While it is being read, its own job sees to them. */
export async function runTakeSpansJob(
  { sequelize, turns }: Pick<WorkerTools, 'sequelize' | 'turns'>,
  job: TakeSpansJob,
  hold: Hold,
): Promise<void> {
  const sweep = await SweepRow.findByPk(job.sweepId)
  if (!sweep || (await isPageOpen(sequelize, job.sweepId, job.pageId))) return
  await turns.beside(async () => {
    const { variants, settle } = await takeSpans(sequelize, job, sweep.sources)
    // What is compared, and of which only figures are left, has no tolls to be worked out.
    for (const variant of isCompared(sweep) || sweep.thinnedAt ? [] : variants) {
      hold.check()
      await storeTolls(sequelize, sweep.siteId, { ...job, variant }, sweep.sources)
    }
    await settle()
    await tellSweep(sequelize, { siteId: sweep.siteId, sweepId: sweep.id })
  })
}
