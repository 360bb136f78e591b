import { randomUUID } from 'node:crypto'
import pg from 'pg'

/** Creates an empty database in the test cluster. `npm test` names that in TEST_DATABASE_URL. */
export async function freshDatabase(): Promise<{ url: string; drop(): Promise<void> }> {
  const admin = process.env.TEST_DATABASE_URL
  if (!admin) throw new Error('TEST_DATABASE_URL is not set; run the tests with npm test.')
  const name = `test_${randomUUID().replaceAll('-', '')}`
  await runAt(admin, `create database ${name}`)
  const url = new URL(admin)
  url.pathname = `/${name}`
  return { url: url.href, drop: () => runAt(admin, `drop database ${name} with (force)`) }
}

async function runAt(url: string, sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  await client.query(sql).finally(() => client.end())
}
