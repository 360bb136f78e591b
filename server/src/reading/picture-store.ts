import { QueryTypes, type Sequelize } from 'sequelize'
import type { Picture } from '../browser/take-picture.js'
import { keepBytes } from './picture-bytes.js'
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
  if (!sweep) return
  await sequelize.query(
    `insert into picture (sweep_id, page_id, variant, bytes_id, width, height) values ($1, $2, $3, $4, $5, $6)
     on conflict do nothing`,
    { bind: [sweepId, pageId, variant, await keepBytes(sequelize, sweep.siteId, jpeg), width, height] },
  )
}

export async function pictureOf(
  sequelize: Sequelize,
  { sweepId, pageId, variant }: PicturePlace,
): Promise<Picture | null> {
  const [found] = await sequelize.query<Picture>(
    `select jpeg, width, height from picture join picture_bytes on id = bytes_id
     where sweep_id = $1 and page_id = $2 and variant = $3`,
    { bind: [sweepId, pageId, variant], type: QueryTypes.SELECT },
  )
  return found ?? null
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
