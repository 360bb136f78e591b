import { createHash } from 'node:crypto'
import { QueryTypes, type Sequelize } from 'sequelize'
import { lighterPicture } from './lighter-picture.js'

/** Keeps a picture of a site once, however often it was taken, as it was taken. @returns what it is known by */
export const keepBytes = (sequelize: Sequelize, siteId: number, jpeg: Buffer): Promise<number> =>
  keepOnce(sequelize, siteId, hashOf('', jpeg), () => Promise.resolve(jpeg))

/**
 * The same for one that is only looked at by people: it is kept more lightly, and made so only the first time that it is met.
 * It is another one than the same picture as it was taken.
 */
export const keepLighter = (sequelize: Sequelize, siteId: number, jpeg: Buffer): Promise<number> =>
  keepOnce(sequelize, siteId, hashOf('lighter ', jpeg), () => lighterPicture(jpeg))

const hashOf = (kind: string, jpeg: Buffer): Buffer => createHash('sha256').update(kind).update(jpeg).digest()

async function keepOnce(
  sequelize: Sequelize,
  siteId: number,
  hash: Buffer,
  contentOf: () => Promise<Buffer>,
): Promise<number> {
  const known = async () => {
    const [row] = await sequelize.query<{ id: number }>(
      'select id from picture_bytes where site_id = $1 and hash = $2',
      { bind: [siteId, hash], type: QueryTypes.SELECT },
    )
    return row?.id
  }
  const before = await known()
  if (before !== undefined) return before
  await sequelize.query(
    'insert into picture_bytes (site_id, hash, content) values ($1, $2, $3) on conflict do nothing',
    { bind: [siteId, hash, await contentOf()] },
  )
  return (await known())!
}
