import { QueryTypes, type Sequelize } from 'sequelize'
import type { RetirementGain } from '@unvelt/contract'

interface WholeSweep {
  id: number
  lensId: number
  startedAt: Date
}

/** Surveys of the whole site under the live rules, the newest first. */
export const wholeSweeps = (sequelize: Sequelize, siteId: number): Promise<WholeSweep[]> =>
  sequelize.query<WholeSweep>(
    `select id, lens_id "lensId", started_at "startedAt" from sweep
     where site_id = :siteId and purpose = 'survey' and status = 'done' and sample is null
     and variants -> 0 ->> 'rules' = 'live' order by started_at desc limit 100`,
    { replacements: { siteId }, type: QueryTypes.SELECT },
  )

/** Since when an add-on is known to be off: the first of the newest sweeps that all saw it so. Null where none has. */
export async function offSince(sequelize: Sequelize, siteId: number, slug: string): Promise<Date | null> {
  const seen = await sequelize.query<{ startedAt: Date; active: boolean }>(
    `select started_at "startedAt", (entry ->> 'active')::boolean active
     from sweep, jsonb_array_elements(inventory) entry
     where site_id = :siteId and entry ->> 'slug' = :slug order by started_at desc limit 500`,
    { replacements: { siteId, slug }, type: QueryTypes.SELECT },
  )
  const on = seen.findIndex(({ active }) => active)
  return (on < 0 ? seen : seen.slice(0, on)).at(-1)?.startedAt ?? null
}

/**
 * What the pages of two sweeps differ by, in the mean of those that both have read: the last one before the add-on was switched off,
 * and the newest since, through one lens. Null while there are no two.
 */
export async function gainOf(
  sequelize: Sequelize,
  sweeps: readonly WholeSweep[],
  offAt: Date,
): Promise<RetirementGain | null> {
  for (const after of sweeps.filter(({ startedAt }) => startedAt >= offAt)) {
    const before = sweeps.find(({ startedAt, lensId }) => startedAt < offAt && lensId === after.lensId)
    if (!before) continue
    const [row] = await sequelize.query<{ pages: number; requests: number; transferBytes: number; serverMs: number }>(
      `with sums as (
         select sweep_id, page_id, sum(requests) requests, sum(transfer_bytes) bytes, sum(server_ms) ms from toll
         where sweep_id in (:before, :after) and variant = 'live' group by sweep_id, page_id)
       select count(*)::int pages, avg(a.requests - b.requests)::float8 requests,
              avg(a.bytes - b.bytes)::float8 "transferBytes", coalesce(avg(a.ms - b.ms), 0)::float8 "serverMs"
       from sums b join sums a on a.page_id = b.page_id where b.sweep_id = :before and a.sweep_id = :after`,
      { replacements: { before: before.id, after: after.id }, type: QueryTypes.SELECT },
    )
    if (row && row.pages > 0) return { ...row, before: before.id, after: after.id }
  }
  return null
}
