import { Op, QueryTypes, type Sequelize } from 'sequelize'
import type { PastSweep } from '@unvelt/contract'
import { keptView } from '../kept/kept-view.js'
import { SweepRow } from '../sweep/sweep.model.js'

const MOST = 24

type Middles = Omit<PastSweep, 'sweepId' | 'at'>

/** What the middle page of each whole survey through the site's first lens weighed, oldest first. Added up once for each. */
export async function pastSweeps(sequelize: Sequelize, siteId: number): Promise<PastSweep[]> {
  const found = await sequelize.query<{ id: number }>(
    `select id from sweep where site_id = :siteId and purpose = 'survey' and status = 'done' and sample is null
       and variants -> 0 ->> 'rules' = 'live' and lens_id = (select min(id) from lens where site_id = :siteId and removed_at is null)
       and exists (select 1 from toll where sweep_id = sweep.id and variant = 'live')
     order by started_at desc limit ${MOST}`,
    { replacements: { siteId }, type: QueryTypes.SELECT },
  )
  const sweeps = await SweepRow.findAll({
    where: { id: { [Op.in]: found.map(({ id }) => id) } },
    order: [['startedAt', 'asc']],
  })
  const past: PastSweep[] = []
  for (const sweep of sweeps) {
    const middles = await keptView(sequelize, sweep, 'past', () => middlesOf(sequelize, sweep.id))
    past.push({ sweepId: sweep.id, at: sweep.startedAt.toISOString(), ...middles })
  }
  return past
}

async function middlesOf(sequelize: Sequelize, sweepId: number): Promise<Middles> {
  const [middles] = await sequelize.query<Middles>(
    `select count(*)::int pages,
       percentile_cont(0.5) within group (order by requests) requests,
       percentile_cont(0.5) within group (order by transfer_bytes) "transferBytes",
       percentile_cont(0.5) within group (order by server_ms) "serverMs",
       (select percentile_cont(0.5) within group (order by load_ms) from reading
         where sweep_id = :sweepId and failure is null and variant = 'live') "loadMs"
     from (
       select sum(requests)::float8 requests, sum(transfer_bytes)::float8 transfer_bytes, sum(server_ms) server_ms
       from toll where sweep_id = :sweepId and variant = 'live' group by page_id) pages`,
    { replacements: { sweepId }, type: QueryTypes.SELECT },
  )
  return middles!
}
