import pg from 'pg'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { ownTrouble } from '../src/queue/own-trouble.js'
import { LockLost } from '../src/queue/locks.js'
import { appForTest } from './app-for-test.js'
import { sweepUntil, WorkerProcesses } from './worker-process.js'

/** What goes wrong in Unvelt itself is never told as a page's failure, and nothing stands still for it for good. */
let t: Awaited<ReturnType<typeof appForTest>>
let plain: PlainSite
let site: string
const workers = new WorkerProcesses()

beforeAll(async () => {
  t = await appForTest()
  plain = await plainSite()
  const { body } = await t.call('POST', '/sites', { address: plain.address, withoutConnector: true, local: true })
  site = `/sites/${body.id}`
})
afterAll(async () => {
  await workers.stop()
  await t?.stop()
  await plain?.stop()
})

/** In the test's own database, by a connection that others' ends don't concern. */
async function sql(text: string): Promise<void> {
  const client = new pg.Client({ connectionString: t.databaseUrl, application_name: 'the-test' })
  await client.connect()
  await client.query(text).finally(() => client.end())
}
const start = async (repeats: number) => (await t.call('POST', `${site}/sweeps`, { repeats })).body.id as number

it.each([
  [{ original: { code: '53100' } }, 'disk', false],
  [Object.assign(new Error('write'), { code: 'ENOSPC' }), 'disk', false],
  [{ name: 'SequelizeConnectionRefusedError', message: 'connect ECONNREFUSED' }, 'database', true],
  [{ original: { code: '57P01' } }, 'database', true],
  [new Error('Connection terminated unexpectedly'), 'database', true],
  [new LockLost(), 'database', true],
])('%j is Unvelt’s own', (error, word, passes) =>
  expect(ownTrouble(error)).toEqual({ why: expect.stringContaining(word), passes }),
)
it.each([new Error('net::ERR_CONNECTION_REFUSED'), { original: { code: '23505' } }, null, undefined, 'x'])(
  '%j is not',
  (error) => expect(ownTrouble(error)).toBeNull(),
)

it('a sweep that nobody works on says why, and can be ended', async () => {
  const id = await start(1)
  const { body } = await t.call('GET', `/sweeps/${id}`)
  expect(body).toMatchObject({ status: 'running', why: expect.stringContaining('No worker is running') })
  expect((await t.call('POST', `/sweeps/${id}/cancel`)).body).toMatchObject({ status: 'cancelled', why: null })
})

it('a full disk pauses the sweep with its reason; no page has failed, and it goes on when there is room', async () => {
  await workers.start()
  await sql(`create function full_disk() returns trigger language plpgsql as
    $$ begin raise exception 'could not extend file' using errcode = '53100'; end $$;
    create trigger full_disk before insert on reading for each row execute function full_disk()`)
  const id = await start(2)
  const paused = await sweepUntil(t, id, ({ status }) => status !== 'running')
  expect(paused).toMatchObject({
    status: 'paused',
    why: 'The disk that Unvelt writes to is full.',
    readingsFailed: 0,
    pagesFailed: 0,
  })
  await sql('drop trigger full_disk on reading')
  expect((await t.call('POST', `/sweeps/${id}/resume`)).body).toMatchObject({ why: null })
  const done = await sweepUntil(t, id, ({ status }) => status === 'done')
  expect(done).toMatchObject({ readingsFailed: 0, pagesFailed: 0 })
})

it('a sweep goes on when every connection to the database is cut at once, and blocks no later one', async () => {
  const id = await start(2)
  for (const readings of [2, 4]) {
    await sweepUntil(t, id, (sweep) => sweep.readings >= readings || sweep.status === 'done')
    await sql(`select pg_terminate_backend(pid) from pg_stat_activity
      where datname = current_database() and pid <> pg_backend_pid()`)
  }
  const done = await sweepUntil(t, id, ({ status }) => status === 'done')
  expect(done).toMatchObject({ readingsFailed: 0, pagesFailed: 0 })
  const next = await start(1)
  expect(await sweepUntil(t, next, ({ status }) => status === 'done')).toMatchObject({ readingsFailed: 0 })
})

it('pages whose jobs were lost out of the queue are queued again', async () => {
  const id = await start(1)
  await sql(`delete from pgboss.job where name = 'read-page' and state < 'active'`)
  expect(await sweepUntil(t, id, ({ status }) => status === 'done')).toMatchObject({ readingsFailed: 0 })
})
