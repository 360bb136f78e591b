import { QueryTypes, type Sequelize } from 'sequelize'

/**
 * The survey whose figures are shown when none is asked for: the newest that was read to its end through the site's
 * first lens, so that a look through another doesn't change what is compared; as long as there is none, the newest
 * that has read anything. A new sweep doesn't empty the ledger while it runs, and one of a few pages (fewer than half of
 * those that the largest has read) doesn't take the place of one of the site.
 */
export async function shownSweep(sequelize: Sequelize, siteId: number): Promise<number | null> {
  const [newest] = await sequelize.query<{ id: number }>(
    `select id from (
       select id, status = 'done' done, lens_id, started_at,
              (select count(*) from sweep_page where sweep_id = sweep.id) pages
       from sweep where site_id = :siteId and purpose = 'survey'
       and exists (select 1 from toll where sweep_id = sweep.id)
       and variants -> 0 ->> 'rules' = 'live') surveys
     order by done desc, lens_id, pages * 2 >= max(pages) over (partition by done, lens_id) desc, started_at desc
     limit 1`,
    { replacements: { siteId }, type: QueryTypes.SELECT },
  )
  return newest?.id ?? null
}
