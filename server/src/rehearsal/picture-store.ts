import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import type { Picture } from '../browser/take-picture.js'

export interface RehearsedPlace {
  rehearsalId: number
  pageId: number
  lensId: number
}

export async function keepPicture(
  sequelize: Sequelize,
  { rehearsalId, pageId, lensId }: RehearsedPlace,
  turn: number,
  { jpeg, width, height }: Picture,
): Promise<void> {
  await sequelize.query(
    `insert into rehearsal_picture (rehearsal_id, page_id, lens_id, turn, jpeg, width, height)
     values ($1, $2, $3, $4, $5, $6, $7) on conflict do nothing`,
    { bind: [rehearsalId, pageId, lensId, turn, jpeg, width, height] },
  )
}

/** So many rehearsals of a site keep their pictures: they are large, and what guards found stays without them. */
const MOST_WITH_PICTURES = 12

export async function forgetOldPictures(
  sequelize: Sequelize,
  siteId: number,
  transaction: Transaction | null = null,
): Promise<void> {
  await sequelize.query(
    `delete from rehearsal_picture where rehearsal_id in
       (select id from rehearsal where site_id = $1 order by id desc offset $2)`,
    { bind: [siteId, MOST_WITH_PICTURES], transaction },
  )
}

/** Of all readings of a page that have one, by their turn. */
export async function keptPictures(
  sequelize: Sequelize,
  { rehearsalId, pageId, lensId }: RehearsedPlace,
): Promise<Map<number, Buffer>> {
  const rows = await sequelize.query<{ turn: number; jpeg: Buffer }>(
    'select turn, jpeg from rehearsal_picture where rehearsal_id = $1 and page_id = $2 and lens_id = $3',
    { bind: [rehearsalId, pageId, lensId], type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ turn, jpeg }) => [turn, jpeg]))
}

/** The size of the first picture of each page, by page and lens. */
export async function pictureSizes(
  sequelize: Sequelize,
  rehearsalId: number,
): Promise<Map<string, { width: number; height: number }>> {
  const rows = await sequelize.query<{ pageId: number; lensId: number; width: number; height: number }>(
    `select page_id "pageId", lens_id "lensId", max(width) width, max(height) height from rehearsal_picture
     where rehearsal_id = $1 group by page_id, lens_id`,
    { bind: [rehearsalId], type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ pageId, lensId, width, height }) => [`${pageId} ${lensId}`, { width, height }]))
}
