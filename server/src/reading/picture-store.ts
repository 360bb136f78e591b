import { QueryTypes, type Sequelize } from 'sequelize'
import type { Picture } from '../browser/take-picture.js'
import { keepLighter } from './picture-bytes.js'
import type { ReadingPlace } from './reading-store.js'

type PicturePlace = Omit<ReadingPlace, 'repeat'>

/** Keeps one picture of a page in a sweep; the first stays. */
export async function storePicture(
  sequelize: Sequelize,
  { sweepId, pageId, variant }: PicturePlace,
  { jpeg, width, height }: Picture,
): Promise<void> {
  const [sweep] = await sequelize.query<{ siteId: number }>('select site_id "siteId" from sweep where id = $1', {
    bind: [sweepId],
    type: QueryTypes.SELECT,
  })
  if (!sweep || (await pictureSize(sequelize, { sweepId, pageId, variant }))) return
  await sequelize.query(
    `insert into picture (sweep_id, page_id, variant, bytes_id, width, height) values ($1, $2, $3, $4, $5, $6)
     on conflict do nothing`,
    { bind: [sweepId, pageId, variant, await keepLighter(sequelize, sweep.siteId, jpeg), width, height] },
  )
}

/** As it is kept, see `pictureType`. */
export async function pictureOf(
  sequelize: Sequelize,
  { sweepId, pageId, variant }: PicturePlace,
): Promise<Buffer | null> {
  const [found] = await sequelize.query<{ content: Buffer }>(
    `select content from picture join picture_bytes on id = bytes_id
     where sweep_id = $1 and page_id = $2 and variant = $3`,
    { bind: [sweepId, pageId, variant], type: QueryTypes.SELECT },
  )
  return found?.content ?? null
}

/** Its size alone, for a page that leaves room for it. */
export async function pictureSize(
  sequelize: Sequelize,
  { sweepId, pageId, variant }: PicturePlace,
): Promise<{ width: number; height: number } | null> {
  const [found] = await sequelize.query<{ width: number; height: number }>(
    'select width, height from picture where sweep_id = $1 and page_id = $2 and variant = $3',
    { bind: [sweepId, pageId, variant], type: QueryTypes.SELECT },
  )
  return found ?? null
}
