import { QueryTypes, type Sequelize } from 'sequelize'
import type { Complaint } from '@unvelt/core'
import { keptView } from '../kept/kept-view.js'
import { PageRow } from '../page/page.model.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { complaintsIn } from './page-history.js'

/** What one page complained of in a sweep; nothing where it was not read. */
interface PageComplained {
  pageId: number
  complaints: Complaint[]
}

/** What the pages of a sweep complained of, one reading of each: worked out once. */
export function complaintsOfSweep(sequelize: Sequelize, sweep: SweepRow): Promise<PageComplained[]> {
  const make = async () => {
    const pages = await PageRow.findAll({ where: { siteId: sweep.siteId }, attributes: ['id'], order: ['position'] })
    const found: PageComplained[] = []
    for (const { id } of pages) {
      const complaints = await complaintsIn(sweep, id)
      if (complaints) found.push({ pageId: id, complaints })
      // Others that wait for an answer have their turn in between.
      await new Promise((resolve) => setImmediate(resolve))
    }
    return found
  }
  return keptView(sequelize, sweep, 'complaints', make)
}

/** The survey through the same lens that came before one, and has read anything. */
export async function surveyBefore(sequelize: Sequelize, { id, siteId, lensId }: SweepRow): Promise<SweepRow | null> {
  const [row] = await sequelize.query<{ id: number }>(
    `select id from sweep where site_id = :siteId and lens_id = :lensId and purpose = 'survey' and status = 'done' and id < :id
     and variants -> 0 ->> 'rules' = 'live' and exists (select 1 from toll where sweep_id = sweep.id)
     order by (select count(*) from sweep_page where sweep_id = sweep.id) * 2 >=
       (select count(*) from sweep_page where sweep_id = :id) desc, id desc limit 1`,
    { replacements: { id, siteId, lensId }, type: QueryTypes.SELECT },
  )
  return row ? SweepRow.findByPk(row.id) : null
}
