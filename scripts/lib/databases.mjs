import { createRequire } from 'node:module'
import { join } from 'node:path'
import { PlainError } from './fail.mjs'
import { ROOT } from './workspace.mjs'

/** Creates a database if it is not there yet. Connects to `adminUrl` for that. */
export async function ensureDatabase(adminUrl, name) {
  const pg = createRequire(join(ROOT, 'server/package.json'))('pg')
  for (let tries = 1; ; tries++) {
    const client = new pg.Client({ connectionString: adminUrl, connectionTimeoutMillis: 10_000 })
    try {
      await client.connect()
      const found = await client.query('select 1 from pg_database where datname = $1', [name])
      if (found.rowCount === 0) await client.query(`create database ${client.escapeIdentifier(name)}`)
      return
    } catch (error) {
      // 57P03: PostgreSQL answers already but is still finding its feet.
      if (error.code !== '57P03' || tries > 100)
        throw new PlainError(`the database ${name} can’t be reached or made: ${error.message || error.code}`)
      await new Promise((resolve) => setTimeout(resolve, 100))
    } finally {
      await client.end().catch(() => {})
    }
  }
}

/** The same server, another database. */
export function withDatabase(url, name) {
  const changed = new URL(url)
  changed.pathname = `/${name}`
  return changed.href
}

export const databaseName = (url) => decodeURIComponent(new URL(url).pathname.slice(1))
