import { randomUUID } from 'node:crypto'
import pg from 'pg'

export interface TestDatabase {
  url: string
  drop(): Promise<void>
}

/** One lock for all tests that run at the same time, of no meaning but here. */
const MAKING = 740_112

/**
 * Creates a database in the test cluster, which `npm test` names in TEST_DATABASE_URL: a copy of what was filled once in
 * this run, under a name.
 * @param fill Fills an empty database and leaves no connection to it.
 */
export async function freshDatabase(likeName: string, fill: (url: string) => Promise<void>): Promise<TestDatabase> {
  const admin = process.env.TEST_DATABASE_URL
  if (!admin) throw new Error('TEST_DATABASE_URL is not set; run the tests with npm test.')
  const urlOf = (name: string) => Object.assign(new URL(admin), { pathname: `/${name}` }).href
  const name = `test_${randomUUID().replaceAll('-', '')}`
  const filled = `filled_${likeName}`
  await connected(admin, async (client) => {
    await client.query('select pg_advisory_lock($1)', [MAKING])
    const { rowCount } = await client.query('select 1 from pg_database where datname = $1', [filled])
    if (!rowCount) {
      // It has its name only once it is whole.
      await client.query(`drop database if exists ${filled}_half with (force)`)
      await client.query(`create database ${filled}_half`)
      await fill(urlOf(`${filled}_half`))
      await client.query(`alter database ${filled}_half rename to ${filled}`)
    }
    await client.query(`create database ${name} template ${filled}`)
  })
  return {
    url: urlOf(name),
    drop: () => connected(admin, (client) => client.query(`drop database ${name} with (force)`)),
  }
}

async function connected(url: string, run: (client: pg.Client) => Promise<unknown>): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  await run(client).finally(() => client.end())
}
