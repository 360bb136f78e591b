import 'reflect-metadata'
import { brotliDecompressSync, gunzipSync } from 'node:zlib'
import { request } from 'node:http'
import pg from 'pg'
import { ReadyAnswers } from '../src/ready/ready-answers.js'
import { PackedAnswer } from '../src/ready/packed-answer.js'
import type { SiteVersions } from '../src/ready/site-versions.js'
import { appForTest, KEY } from './app-for-test.js'

/** Answers that are kept until something of their site is written, by whomever. */
let t: Awaited<ReturnType<typeof appForTest>>
let other: pg.Client
let site: string
beforeAll(async () => {
  t = await appForTest()
  other = new pg.Client({ connectionString: t.databaseUrl })
  await other.connect()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
})
afterAll(async () => {
  await other?.end()
  await t?.stop()
})

/** As it comes over the line. */
async function ask(path: string, headers: Record<string, string> = {}) {
  const url = new URL(`${await t.app.getUrl()}/api${path}`)
  return new Promise<{ status: number; headers: Record<string, unknown>; body: Buffer }>((resolve, reject) => {
    request(url, { headers }, async (response) => {
      const parts: Buffer[] = []
      for await (const part of response) parts.push(part as Buffer)
      resolve({ status: response.statusCode!, headers: response.headers, body: Buffer.concat(parts) })
    })
      .on('error', reject)
      .end()
  })
}

const titles = async () =>
  ((await t.call('GET', `${site}/pages`)).body as { title: string }[]).map(({ title }) => title)

/** Worked out of others, or names that mean nothing until a row has them; or about the machinery, and in no answer that is kept. */
const NOT_WATCHED = [
  'code_use',
  'file_address',
  'film_frame',
  'job_try',
  'kept_view',
  'ledger_pack',
  'migration',
  'payer_key',
  'picture_bytes',
  'picture_file',
  'trace_part',
  'trace_root',
  'worker',
]

it('is told by every table that answers are made of', async () => {
  const { rows } = await other.query(`
    select table_name "table", (
      select count(*)::int from pg_trigger where tgrelid = table_name::regclass and tgfoid = 'tell_change'::regproc) told
    from information_schema.tables where table_schema = 'public' and table_type = 'BASE TABLE' order by table_name`)
  expect(rows.filter(({ told }) => told !== 3).map(({ table }) => table)).toEqual(NOT_WATCHED)
})

it('never answers with what was so before a write that is over, whoever wrote', async () => {
  for (let n = 0; n < 60; n++) {
    await other.query(`update page set title = $1 where path = '/contact'`, [`Contact ${n}`])
    expect(await titles()).toContain(`Contact ${n}`)
  }
  // What is not over yet has not been, and what is taken back never was.
  await other.query('begin')
  await other.query(`update page set title = 'Nobody' where path = '/contact'`)
  expect(await titles()).toContain('Contact 59')
  await other.query('rollback')
  expect(await titles()).toContain('Contact 59')
})

it('sends the same again until then, packed as it is asked for, and says that it has not changed', async () => {
  const plain = await ask(`${site}/pages`)
  expect(plain.headers['content-encoding']).toBeUndefined()
  const brotli = await ask(`${site}/pages`, { 'accept-encoding': 'gzip, br' })
  const gzip = await ask(`${site}/pages`, { 'accept-encoding': 'gzip' })
  expect([brotli.headers['content-encoding'], gzip.headers['content-encoding']]).toEqual(['br', 'gzip'])
  for (const { headers, body } of [plain, brotli, gzip]) {
    expect(headers).toMatchObject({
      'content-type': 'application/json; charset=utf-8',
      'content-length': `${body.length}`,
      'cache-control': 'private, no-cache',
      etag: plain.headers.etag,
      vary: 'Accept-Encoding',
    })
  }
  expect(brotliDecompressSync(brotli.body)).toEqual(plain.body)
  expect(gunzipSync(gzip.body)).toEqual(plain.body)
  const again = await ask(`${site}/pages`, { 'if-none-match': String(plain.headers.etag) })
  expect([again.status, again.body.length]).toEqual([304, 0])
  await other.query(`update page set title = 'Otherwise' where path = '/contact'`)
  const changed = await ask(`${site}/pages`, { 'if-none-match': String(plain.headers.etag) })
  expect(changed.status).toBe(200)
})

it('keeps no refusal, and asks each time while nothing is heard of the database', async () => {
  expect((await t.call('GET', '/sites/999/pages')).status).toBe(404)
  expect((await t.call('GET', '/sites/999/pages')).status).toBe(404)
  await titles()
  const { rows } = await other.query(
    `select pg_terminate_backend(pid) from pg_stat_activity where query like 'select 1' or query like 'listen%'`,
  )
  expect(rows.length).toBeGreaterThan(0)
  for (let n = 0; n < 20; n++) {
    await other.query(`update page set title = $1 where path = '/about'`, [`About ${n}`])
    expect(await titles()).toContain(`About ${n}`)
  }
})

describe('an answer', () => {
  const answer = (text: string) => new PackedAnswer('text/plain', Buffer.from(text))
  /** Versions that stand as they are set. */
  function answers() {
    const versions = { at: '1' as string | null, now: () => Promise.resolve(versions.at) }
    return { versions, ready: new ReadyAnswers(versions as unknown as SiteVersions) }
  }

  it('is worked out once for all who ask meanwhile, and once more after a write', async () => {
    const { versions, ready } = answers()
    let made = 0
    const make = async () => answer(`made ${++made}`)
    const all = await Promise.all(Array.from({ length: 20 }, () => ready.get('x', 1, make)))
    expect(new Set(all).size).toBe(1)
    expect(await ready.get('x', 1, make)).toBe(all[0])
    versions.at = '2'
    expect(await ready.get('x', 1, make)).not.toBe(all[0])
    expect(made).toBe(2)
  })

  it('that something was written under while it was worked out is for nobody who asks later', async () => {
    const { versions, ready } = answers()
    let letGo!: () => void
    const slow = ready.get('x', 1, () => new Promise((resolve) => (letGo = () => resolve(answer('old')))))
    await Promise.resolve()
    versions.at = '2'
    const later = await ready.get('x', 1, async () => answer('new'))
    letGo()
    const old = await slow
    expect(await ready.get('x', 1, async () => answer('new once more'))).toBe(later)
    expect(old).not.toBe(later)
  })

  it('that the clock may change is for those who ask meanwhile, and for nobody later', async () => {
    const { ready } = answers()
    const passing = async () => new PackedAnswer('text/plain', Buffer.from('now'), false)
    const [one, other] = await Promise.all([ready.get('x', 1, passing), ready.get('x', 1, passing)])
    expect(other).toBe(one)
    expect(await ready.get('x', 1, passing)).not.toBe(one)
  })

  it('that fails is tried anew, and none is kept while no version is known', async () => {
    const { versions, ready } = answers()
    await expect(ready.get('x', 1, () => Promise.reject(new Error('no')))).rejects.toThrow('no')
    const first = await ready.get('x', 1, async () => answer('yes'))
    versions.at = null
    expect(await ready.get('x', 1, async () => answer('yes'))).not.toBe(first)
  })
})
