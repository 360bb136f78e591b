import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import type { Picture } from '../browser/take-picture.js'
import { keepBytes } from '../reading/picture-bytes.js'

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
  /** The step that failed here; the page itself without, and then which of its pictures. */
  { step = '', moment = 0 } = {},
): Promise<void> {
  const [rehearsal] = await sequelize.query<{ siteId: number }>(
    'select site_id "siteId" from rehearsal where id = $1',
    {
      bind: [rehearsalId],
      type: QueryTypes.SELECT,
    },
  )
  if (!rehearsal) return
  const bytes = await keepBytes(sequelize, rehearsal.siteId, jpeg)
  await sequelize.query(
    `insert into rehearsal_picture (rehearsal_id, page_id, lens_id, turn, step, moment, bytes_id, width, height)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9) on conflict do nothing`,
    { bind: [rehearsalId, pageId, lensId, turn, step, moment, bytes, width, height] },
  )
}

/**
 * So many rehearsals of a site keep their pictures: they are large, and what guards found stays without them. The round that the next one
 * is held against keeps its own.
 */
const MOST_WITH_PICTURES = 12

export async function forgetOldPictures(
  sequelize: Sequelize,
  siteId: number,
  transaction: Transaction | null = null,
): Promise<void> {
  await sequelize.query(
    `delete from rehearsal_picture where rehearsal_id in
       (select id from rehearsal where site_id = $1 order by id desc offset $2)
     and rehearsal_id is distinct from
       (select max(id) from rehearsal where site_id = $1 and is_round and sound)`,
    { bind: [siteId, MOST_WITH_PICTURES], transaction },
  )
}

/** Of all readings of a page that have some, by their turn: in each the first one first. */
export async function keptPictures(
  sequelize: Sequelize,
  { rehearsalId, pageId, lensId }: RehearsedPlace,
): Promise<Map<number, Buffer[]>> {
  const rows = await sequelize.query<{ turn: number; jpeg: Buffer }>(
    `select turn, content jpeg from rehearsal_picture join picture_bytes on id = bytes_id
     where rehearsal_id = $1 and page_id = $2 and lens_id = $3 and step = '' order by turn, moment`,
    { bind: [rehearsalId, pageId, lensId], type: QueryTypes.SELECT },
  )
  const found = new Map<number, Buffer[]>()
  for (const { turn, jpeg } of rows) found.set(turn, [...(found.get(turn) ?? []), jpeg])
  return found
}

/** The size of the first picture of each page, by page and lens. */
export async function pictureSizes(
  sequelize: Sequelize,
  rehearsalId: number,
): Promise<Map<string, { width: number; height: number }>> {
  const rows = await sequelize.query<{ pageId: number; lensId: number; width: number; height: number }>(
    `select page_id "pageId", lens_id "lensId", max(width) width, max(height) height from rehearsal_picture
     where rehearsal_id = $1 and step = '' group by page_id, lens_id`,
    { bind: [rehearsalId], type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ pageId, lensId, width, height }) => [`${pageId} ${lensId}`, { width, height }]))
}

/** Steps of which a picture is kept where they failed, by page and lens. */
export async function stepsPictured(sequelize: Sequelize, rehearsalId: number): Promise<Map<string, string[]>> {
  const rows = await sequelize.query<{ pageId: number; lensId: number; steps: string[] }>(
    `select page_id "pageId", lens_id "lensId", array_agg(distinct step) steps from rehearsal_picture
     where rehearsal_id = $1 and step <> '' group by page_id, lens_id`,
    { bind: [rehearsalId], type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ pageId, lensId, steps }) => [`${pageId} ${lensId}`, steps]))
}

/** What was to be seen where a step failed, the last time that it did. */
export async function stepPicture(
  sequelize: Sequelize,
  { rehearsalId, pageId, lensId }: RehearsedPlace,
  step: string,
): Promise<Buffer | null> {
  const [row] = await sequelize.query<{ jpeg: Buffer }>(
    `select content jpeg from rehearsal_picture join picture_bytes on id = bytes_id
     where rehearsal_id = $1 and page_id = $2 and lens_id = $3 and step = $4 order by turn desc limit 1`,
    { bind: [rehearsalId, pageId, lensId, step], type: QueryTypes.SELECT },
  )
  return row?.jpeg ?? null
}
