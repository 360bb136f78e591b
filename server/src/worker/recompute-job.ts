import { QueryTypes, type Sequelize } from 'sequelize'
import { tellSweep } from '../events/tell.js'
import { patternsOf } from '../pattern/pattern.model.js'
import type { Hold } from '../queue/job.js'
import type { RecomputeJob } from '../queue/queue.js'
import { storeTolls } from '../reading/reading-store.js'
import { SweepRow } from '../sweep/sweep.model.js'
import type { WorkerTools } from './worker-tools.js'

/**
 * Works a sweep's tolls out anew from its readings, by the patterns that hold now. All else that was known of the site
 * then stays, since an add-on of today may not have been there. Page by page, so that timed loads come in between.
 */
export async function runRecomputeJob(
  { sequelize, turns }: Pick<WorkerTools, 'sequelize' | 'turns'>,
  { sweepId }: RecomputeJob,
  hold: Hold,
): Promise<void> {
  const sweep = await SweepRow.findByPk(sweepId)
  if (!sweep) return
  // Without its readings nothing can be worked out anew.
  if (sweep.thinnedAt) return endRecomputing(sequelize, sweep)
  // What changes while it is at work is worked out in another round.
  for (let by = ''; ;) {
    const patterns = JSON.stringify(await patternsOf(sweep.siteId))
    if (patterns === by) break
    by = patterns
    // Only the patterns are written: a worker may be adding what it learns of glued files.
    await sequelize.query(
      `update sweep set sources = jsonb_set(sources, '{patterns}', :patterns::jsonb) where id = :sweepId`,
      { replacements: { sweepId, patterns } },
    )
    const { sources } = await sweep.reload()
    for (const { pageId, variant } of await pagesOf(sequelize, sweepId)) {
      hold.check()
      await turns.beside(() => storeTolls(sequelize, sweep.siteId, { sweepId, pageId, variant }, sources))
    }
  }
  hold.check()
  await endRecomputing(sequelize, sweep)
}

/** A sweep that could not be worked out anew is shown as it is. */
export async function endRecomputing(
  sequelize: Sequelize,
  { id, siteId }: Pick<SweepRow, 'id' | 'siteId'>,
): Promise<void> {
  await SweepRow.update({ recomputing: false }, { where: { id } })
  await tellSweep(sequelize, { siteId, sweepId: id })
}

const pagesOf = (sequelize: Sequelize, sweepId: number) =>
  sequelize.query<{ pageId: number; variant: string }>(
    'select distinct page_id "pageId", variant from reading where sweep_id = :sweepId and failure is null order by page_id',
    { replacements: { sweepId }, type: QueryTypes.SELECT },
  )
