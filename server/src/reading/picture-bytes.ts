import { QueryTypes, type Sequelize } from 'sequelize'

/** Keeps a picture of a site once, however often it was taken. @returns what it is known by */
export async function keepBytes(sequelize: Sequelize, siteId: number, jpeg: Buffer): Promise<number> {
  await sequelize.query(
    'insert into picture_bytes (site_id, hash, jpeg) values ($1, sha256($2), $2) on conflict do nothing',
    { bind: [siteId, jpeg] },
  )
  const [row] = await sequelize.query<{ id: number }>(
    'select id from picture_bytes where site_id = $1 and hash = sha256($2)',
    { bind: [siteId, jpeg], type: QueryTypes.SELECT },
  )
  return row!.id
}
