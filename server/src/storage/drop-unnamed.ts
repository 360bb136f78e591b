import type { Sequelize } from 'sequelize'

/** Names that no page of a site's sweeps has any more: addresses that were other ones at each load, and what was used of old files. */
export async function dropUnnamed(sequelize: Sequelize, siteId: number): Promise<void> {
  for (const [table, column] of NAMES)
    await sequelize.query(
      // What was named just now may be for a page that is being stored.
      `with named as materialized (
         select distinct ${column} id from page_file where sweep_id in (select id from sweep where site_id = $1))
       delete from ${table} where site_id = $1 and not exists (select 1 from named where named.id = ${table}.id)
         and not exists (select 1 from sweep where site_id = $1 and (status in ('running', 'paused') or recomputing))`,
      { bind: [siteId] },
    )
  await sequelize.query(
    `delete from picture_bytes where site_id = $1 and not exists (select 1 from picture where bytes_id = picture_bytes.id)
       and not exists (select 1 from rehearsal_picture where bytes_id = picture_bytes.id)
       and not exists (select 1 from sweep where site_id = $1 and status in ('running', 'paused'))
       and not exists (select 1 from rehearsal where site_id = $1 and state = 'running')`,
    { bind: [siteId] },
  )
}

const NAMES = [
  ['code_use', 'use_id'],
  ['file_address', 'file_id'],
  ['payer_key', 'payer_id'],
] as const
