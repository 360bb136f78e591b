import { QueryTypes, type Sequelize } from 'sequelize'

/** Pages on which any of these add-ons was seen in use, by what readings and the site say. */
export async function pagesInUse(sequelize: Sequelize, siteId: number, addOns: string[]): Promise<Set<number>> {
  if (addOns.length === 0) return new Set()
  const rows = await sequelize.query<{ id: number }>(
    `select distinct page_id id from use_fact where site_id = :siteId and slug in (:addOns) and word = 'used'`,
    { replacements: { siteId, addOns }, type: QueryTypes.SELECT },
  )
  return new Set(rows.map(({ id }) => id))
}
