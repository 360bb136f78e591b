import { QueryTypes, type Sequelize } from 'sequelize'
import { tellSweep } from '../events/tell.js'
import { keepPack } from '../toll/pack-store.js'
import type { ReadPageJob } from '../queue/queue.js'
import { SweepRow } from './sweep.model.js'

/** How far the pages of a sweep are, as the workers have it. Of one that is begun the first reading stands; its times are to come. */
type PageState = 'waiting' | 'reading' | 'begun' | 'done' | 'failed'

export async function isRunning(sweepId: number): Promise<boolean> {
  return (await SweepRow.count({ where: { id: sweepId, status: 'running' } })) > 0
}

export const tellOf = (sequelize: Sequelize, { id, siteId }: SweepRow) => tellSweep(sequelize, { siteId, sweepId: id })

/** Whether a page is still to be read. */
export async function isPageOpen(sequelize: Sequelize, sweepId: number, pageId: number): Promise<boolean> {
  const open = await sequelize.query(
    `select 1 from sweep_page where sweep_id = :sweepId and page_id = :pageId and state not in ('done', 'failed')`,
    { replacements: { sweepId, pageId }, type: QueryTypes.SELECT },
  )
  return open.length > 0
}

export async function setPageState(sequelize: Sequelize, job: ReadPageJob, state: PageState): Promise<void> {
  await sequelize.query('update sweep_page set state = :state where sweep_id = :sweepId and page_id = :pageId', {
    replacements: { ...job, state },
  })
}

/**
 * The worker that ends the last page ends the sweep, and packs its ledger for those who look at it.
 * @returns Whether this was the last one.
 */
export async function finishSweep(sequelize: Sequelize, sweepId: number): Promise<boolean> {
  const ended = await sequelize.query<{ id: number }>(
    `update sweep set status = 'done', finished_at = now(), why = null where id = :sweepId and status = 'running'
     and not exists (select 1 from sweep_page where sweep_id = :sweepId and state not in ('done', 'failed')) returning id`,
    { replacements: { sweepId }, type: QueryTypes.SELECT },
  )
  if (ended.length > 0) await keepPack(sequelize, sweepId)
  return ended.length > 0
}

/** Pauses a sweep for a reason of Unvelt's own; it can go on once that is mended. */
export async function standStill(sequelize: Sequelize, sweepId: number, why: string): Promise<void> {
  const [row] = await sequelize.query<{ siteId: number }>(
    `update sweep set status = 'paused', why = :why where id = :sweepId and status = 'running' returning site_id "siteId"`,
    { replacements: { sweepId, why }, type: QueryTypes.SELECT },
  )
  if (row) await tellSweep(sequelize, { siteId: row.siteId, sweepId })
}

/** Pages of sweeps that are under way and not read yet, in the order in which they are to be. */
export function openPages(sequelize: Sequelize): Promise<(ReadPageJob & { urgent: boolean })[]> {
  return sequelize.query<ReadPageJob & { urgent: boolean }>(
    `select sweep_id "sweepId", page_id "pageId", purpose in ('proof', 'weigh-in', 'shares') urgent
     from sweep_page join sweep on sweep.id = sweep_id join page on page.id = page_id
     where status = 'running' and state not in ('done', 'failed')
     order by sweep_id, state = 'begun', position`,
    { type: QueryTypes.SELECT },
  )
}

/** A sweep whose last page ended while its worker could not say so any more. */
export async function finishEnded(sequelize: Sequelize): Promise<void> {
  const ended = await sequelize.query<{ id: number; siteId: number }>(
    `select id, site_id "siteId" from sweep where status = 'running' and purpose <> 'import'
     and not exists (select 1 from sweep_page where sweep_id = sweep.id and state not in ('done', 'failed'))`,
    { type: QueryTypes.SELECT },
  )
  for (const { id, siteId } of ended) {
    await finishSweep(sequelize, id)
    await tellSweep(sequelize, { siteId, sweepId: id })
  }
}
