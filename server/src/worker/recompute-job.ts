import { QueryTypes, type Sequelize } from 'sequelize'
import { tellSweep } from '../events/tell.js'
import { patternsOf } from '../pattern/pattern.model.js'
import type { RecomputeJob } from '../queue/queue.js'
import { storeTolls } from '../reading/reading-store.js'
import { SweepRow } from '../sweep/sweep.model.js'

/**
 * Works a sweep's tolls out anew from its readings, by the patterns that hold now. All else that was known of the site
 * then stays, since an add-on of today may not have been there.
 */
export async function runRecomputeJob(sequelize: Sequelize, { sweepId }: RecomputeJob): Promise<void> {
  const sweep = await SweepRow.findByPk(sweepId)
  if (!sweep) return
  // Only the patterns are written: a worker may be adding what it learns of glued files.
  await sequelize.query(
    `update sweep set sources = jsonb_set(sources, '{patterns}', :patterns::jsonb) where id = :sweepId`,
    {
      replacements: { sweepId, patterns: JSON.stringify(await patternsOf(sweep.siteId)) },
    },
  )
  const { sources } = await sweep.reload()
  const pages = await sequelize.query<{ pageId: number; variant: string }>(
    'select distinct page_id "pageId", variant from reading where sweep_id = :sweepId and failure is null order by page_id',
    { replacements: { sweepId }, type: QueryTypes.SELECT },
  )
  for (const { pageId, variant } of pages)
    await storeTolls(sequelize, sweep.siteId, { sweepId, pageId, variant }, sources)
  await sweep.update({ recomputing: false })
  await tellSweep(sequelize, { siteId: sweep.siteId, sweepId })
}
