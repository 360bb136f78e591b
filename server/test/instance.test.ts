import { Sequelize } from 'sequelize'
import { checkInstance, checkVersion } from '../src/instance/instance.js'
import { readConfig } from '../src/config/config.js'
import { appForTest } from './app-for-test.js'

/** Processes of one Unvelt, and those that are none of it. */
let t: Awaited<ReturnType<typeof appForTest>>
beforeAll(async () => void (t = await appForTest()))
afterAll(() => t?.stop())
const db = () => t.app.get(Sequelize)

it('another secret is told apart by its name, which gives nothing of it away', async () => {
  const own = readConfig({ ...process.env, UNVELT_SECRET: '5a'.repeat(32) })
  await checkInstance(db(), own)
  const other = readConfig({ ...process.env, UNVELT_SECRET: '5b'.repeat(32) })
  expect(other.keyId).toMatch(/^[0-9a-f]{12}$/)
  await expect(checkInstance(db(), other)).rejects.toThrow(new RegExp(`${other.keyId}.*${own.keyId}.*UNVELT_SECRET`))
})

it('a worker of another version says which of the two is to be brought up to date', async () => {
  await checkVersion(db())
  await db().query(`insert into migration (name) values ('9999-from-the-future')`)
  await expect(checkVersion(db())).rejects.toThrow(/newer than this worker \(9999-from-the-future\)/)
  await db().query(`delete from migration where name = '9999-from-the-future'`)
  await db().query(`update migration set name = 'gone' where name = '0001-first-tables'`)
  await expect(checkVersion(db())).rejects.toThrow(/older than this worker \(it lacks 0001-first-tables\)/)
  await db().query(`update migration set name = '0001-first-tables' where name = 'gone'`)
})

it('figures of its running are there for whoever collects them', async () => {
  const text = await (await fetch(`${await t.app.getUrl()}/metrics`)).text()
  for (const name of [
    'unvelt_queue_age_seconds',
    'unvelt_readings_last_minute{outcome="failed"} 0',
    'unvelt_failures_last_hour',
    'unvelt_workers 0',
    'unvelt_nodejs_eventloop_lag_seconds',
  ])
    expect(text).toContain(name)
})

it('the end comes at once, and whoever follows events is let go', async () => {
  const other = await appForTest()
  const response = await fetch(`${await other.app.getUrl()}/api/sites/1/events`)
  const ended = response.text().then(
    () => 'ended',
    () => 'cut',
  )
  const began = performance.now()
  await other.app.close()
  expect(['ended', 'cut']).toContain(await ended)
  // The stream would have gone on for ever; what is waited for is the queue's own end.
  expect(performance.now() - began).toBeLessThan(30_000)
  await other.stop().catch(() => {})
})
