import 'reflect-metadata'
import pg from 'pg'
import type { Sequelize } from 'sequelize'
import { askSite } from '../../testing/ask-site.js'
import { connect } from '../src/database/connect.js'
import { restoreJob } from '../src/snapshot/restore-job.js'
import { SiteRestoreRow } from '../src/snapshot/site-restore.model.js'
import { appForTest, KEY } from './app-for-test.js'
import { aHold, workerTools } from './worker-tools.js'

/** The way back: what a site's snapshots hold, what has changed since, and putting it back, whole or of one add-on. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let site: string
let snapshot: number
const ask = async (method: string, path: string, body?: object) => {
  const headers = { authorization: `Bearer ${KEY}` }
  const { text } = await askSite(t.standin.address, `/unvelt/v1${path}`, { method, headers, ...(body && { body }) })
  return JSON.parse(text) as { id: number }
}
beforeAll(async () => {
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  snapshot = (await ask('POST', '/snapshots', { name: 'before the changes' })).id
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
const job = () => restoreJob(workerTools(db))
const restore = (wish: object = {}) => t.call('POST', `${site}/snapshots/${snapshot}/restore`, wish)
const inside = async () => (await t.call('GET', `${site}/snapshots/${snapshot}`)).body
const newest = async () => (await t.call('GET', `${site}/snapshots`)).body.restores[0]
const rows = async () => (await theirs<{ n: number }>('select count(*)::int n from tally_views'))[0]!.n
const active = async (slug: string) =>
  (await t.call('GET', `${site}/add-ons`)).body.find((addOn: { slug: string }) => addOn.slug === slug).active as boolean

it('tells what is in it, and what has changed since', async () => {
  const { body } = await t.call('GET', `${site}/snapshots`)
  expect(body.snapshots).toEqual([expect.objectContaining({ id: snapshot, name: 'before the changes' })])
  expect(await inside()).toMatchObject({ sound: true })
  const before = await rows()
  await theirs(`insert into tally_views values ('/late', now())`)
  const tally = (await inside()).tables.find(({ name }: { name: string }) => name === 'tally_views')
  expect(tally).toMatchObject({ of: 'Page Tally', rows: before, rowsNow: before + 1, same: false, sound: true })
  // What came since goes when all of it is put back, so it is told before.
  expect((await inside()).newer).toEqual([])
  await theirs(`create table late_comers as select generate_series(1, 3) n`)
  await theirs(`insert into loam_tables values ('late_comers', 'page-tally')`)
  expect((await inside()).newer).toEqual([{ name: 'late_comers', of: 'Page Tally', rows: 3 }])
  expect((await t.call('GET', `${site}/snapshots/999`)).status).toBe(502)
  expect((await t.call('POST', `${site}/snapshots/999/restore`, {})).status).toBe(404)
})

it('puts everything back, once more where it was killed, and knows the site as it is then', async () => {
  await ask('PUT', '/add-ons/canopy-slider/active', { active: false })
  await t.call('POST', `${site}/refresh`)
  expect(await active('canopy-slider')).toBe(false)
  const late = await rows()
  const { status, body } = await restore({ who: 'Ilse' })
  expect(status).toBe(202)
  expect(body).toMatchObject({ state: 'running', addOn: null, who: 'Ilse' })
  expect((await restore()).status).toBe(409)
  let asked = 0
  const killed = {
    ...aHold,
    check() {
      if (++asked === 2) throw new Error('the process ends here')
    },
  }
  await expect(job().run({ id: body.id }, killed)).rejects.toThrow('ends here')
  expect((await newest()).state).toBe('running')
  expect((await job().unfinished()).map(({ data }) => data.id)).toEqual([body.id])
  await job().run({ id: body.id }, aHold)
  expect(await newest()).toMatchObject({ state: 'done', said: expect.stringMatching(/tables read back/) })
  expect(await rows()).toBe(late - 1)
  expect(await active('canopy-slider')).toBe(true)
})

it('puts back what one add-on had, and leaves all else', async () => {
  await theirs('delete from tally_views')
  await ask('PUT', '/add-ons/canopy-slider/active', { active: false })
  const { body } = await restore({ addOn: 'page-tally' })
  await job().run({ id: body.id }, aHold)
  expect(await newest()).toMatchObject({ state: 'done', addOn: 'Page Tally' })
  expect(await rows()).toBeGreaterThan(0)
  expect(await active('canopy-slider')).toBe(false)
})

it('puts nothing back from one that is not what was written, and says so', async () => {
  await theirs(`insert into snapshot_${snapshot}.loam_options values ('x', 'y', 'z')`)
  expect(await inside()).toMatchObject({ sound: false })
  const { body } = await restore()
  await job().run({ id: body.id }, aHold)
  expect(await newest()).toMatchObject({ state: 'failed', said: expect.stringMatching('nothing was put back') })
  expect(await SiteRestoreRow.count({ where: { state: 'running' } })).toBe(0)
})

it('a site without snapshots has none to list', async () => {
  await db.query(`update site set connector = jsonb_set(connector, '{calls}', '["GET /inventory"]')`)
  expect((await t.call('GET', `${site}/snapshots`)).body).toEqual({ snapshots: [], restores: [] })
})
