import { QueryTypes, type Sequelize } from 'sequelize'
import { migrationNames } from '../database/migrate.js'
import type { Config } from '../config/config.js'

/**
 * Servers and workers of one Unvelt share a database and a secret, and are of one version. Whoever starts with another one of
 * these says so at once, and not by the first key that it can't open.
 * @throws Error with what is to be done.
 */
export async function checkInstance(sequelize: Sequelize, { keyId }: Pick<Config, 'keyId'>): Promise<void> {
  await sequelize.query('insert into instance (key_id) values (:keyId) on conflict do nothing', {
    replacements: { keyId },
  })
  const [instance] = await sequelize.query<{ keyId: string }>('select key_id "keyId" from instance', {
    type: QueryTypes.SELECT,
  })
  if (instance?.keyId !== keyId)
    throw new Error(
      `This process has the secret ${keyId}, and the database was sealed with ${instance?.keyId}. Give it the same UNVELT_SECRET, or the file “secret” of the data folder that the first start made.`,
    )
}

/** A worker of another version would write what the server can't read. @throws Error that names what is missing where. */
export async function checkVersion(sequelize: Sequelize): Promise<void> {
  const done = await sequelize.query<{ name: string }>('select name from migration', { type: QueryTypes.SELECT })
  const there = new Set(done.map(({ name }) => name))
  const missing = migrationNames.filter((name) => !there.has(name))
  const newer = done.filter(({ name }) => !migrationNames.includes(name))
  if (missing.length > 0)
    throw new Error(
      `The database is older than this worker (it lacks ${missing.join(', ')}). Start the server of this version first.`,
    )
  if (newer.length > 0)
    throw new Error(
      `The database is newer than this worker (${newer.map(({ name }) => name).join(', ')}). Install the version of the server here.`,
    )
}
