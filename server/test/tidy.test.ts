import 'reflect-metadata'
import pg from 'pg'
import type { Sequelize } from 'sequelize'
import { jest } from '@jest/globals'
import { ConnectorClient, ConnectorError } from '../src/site-http/connector-client.js'
import { connect } from '../src/database/connect.js'
import { tidyJob } from '../src/tidy/tidy-job.js'
import { appForTest, KEY } from './app-for-test.js'
import { aHold, workerTools } from './worker-tools.js'

/** What the CMS keeps for nobody goes, with a snapshot before it; tables give their air back. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let site: string
beforeAll(async () => {
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
})
afterAll(async () => {
  await db?.close()
  await t?.stop()
})

async function theirs<T>(text: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: t.standinDatabaseUrl })
  await client.connect()
  return (await client.query(text).finally(() => client.end())).rows as T[]
}
const tidy = (wish: object) => t.call('POST', `${site}/keepings/tidy`, wish)
const list = async () => (await t.call('GET', `${site}/keepings`)).body
const run = (id: number, hold = aHold) => tidyJob(workerTools(db)).run({ id }, hold)
const ageOf = async (id: string, days: number) =>
  (await list()).keepings
    .find((one: { id: string }) => one.id === id)
    .ages.find((age: { olderThanDays: number }) => age.olderThanDays === days)

it('what is old goes once, whoever is killed in it, and is in a snapshot', async () => {
  const old = await ageOf('revisions', 365)
  const all = await ageOf('revisions', 0)
  expect(old.rows).toBeGreaterThan(0)
  expect(all.rows).toBeGreaterThan(old.rows)
  expect(all.bytes).toBeGreaterThan(old.bytes)
  const { status, body } = await tidy({ keeping: 'revisions', olderThanDays: 365, who: 'Ilse' })
  expect(status).toBe(202)
  expect((await tidy({ keeping: 'trash', olderThanDays: 0 })).status).toBe(409)
  let asked = 0
  const killed = {
    ...aHold,
    check() {
      if (++asked === 2) throw new Error('the process ends here')
    },
  }
  await expect(run(body.id, killed)).rejects.toThrow('ends here')
  await run(body.id)
  const [done] = (await list()).tidyings
  expect(done).toMatchObject({
    state: 'done',
    who: 'Ilse',
    said: expect.stringContaining(`${old.rows} of ${all.rows}`),
  })
  expect(await theirs('select 1 from loam_snapshots')).toHaveLength(1)
  expect((await ageOf('revisions', 0)).rows).toBe(all.rows - old.rows)
  const kept = await theirs<{ n: number }>(
    `select count(*)::int n from snapshot_${done.snapshotId}.loam_revisions where kind = 'revision'`,
  )
  expect(kept[0]!.n).toBe(all.rows)
})

it('air is given back, and for how long a table was locked is told', async () => {
  await theirs('delete from tally_views')
  await t.call('POST', `${site}/refresh`)
  const { airy } = await list()
  const tally = airy.find(({ name }: { name: string }) => name === 'tally_views')
  expect(tally).toMatchObject({ of: 'Page Tally' })
  const { body } = await tidy({ tables: ['tally_views'] })
  await run(body.id)
  const after = await list()
  expect(after.tidyings[0]).toMatchObject({
    state: 'done',
    snapshotId: null,
    said: expect.stringMatching(/MB given back; tally_views was locked the longest, \d+ ms/),
  })
  expect(after.airy.map(({ name }: { name: string }) => name)).not.toContain('tally_views')
})

it('what was done is done, though the site can’t be asked for what it has behind it', async () => {
  const before = (await ageOf('details', 0)).rows
  const { body } = await tidy({ keeping: 'details', olderThanDays: 0 })
  const asked = jest.spyOn(ConnectorClient.prototype, 'uses').mockRejectedValue(new ConnectorError('It is away.'))
  await run(body.id)
  asked.mockRestore()
  expect((await list()).tidyings[0]).toMatchObject({
    state: 'done',
    said: expect.stringMatching(`${before} of ${before} removed.* could not be asked: It is away`),
  })
})

it('refuses what is not there; a table’s name never is part of a statement unless the site has it', async () => {
  expect((await tidy({})).status).toBe(422)
  expect((await tidy({ keeping: 'nothing-such', olderThanDays: 1 })).status).toBe(422)
  expect((await tidy({ keeping: 'trash', olderThanDays: -1 })).status).toBe(422)
  const { body } = await tidy({ tables: ['tally_views"; drop table tally_views; --'] })
  await run(body.id)
  expect((await list()).tidyings[0]).toMatchObject({ state: 'failed' })
  expect(await theirs('select 1 from tally_views limit 1')).toEqual([])
  await db.query(`update site set connector = jsonb_set(connector, '{calls}', '["GET /inventory"]')`)
  expect(await list()).toMatchObject({ keepings: [], airy: [] })
})
