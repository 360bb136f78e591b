import { randomBytes } from 'node:crypto'
import 'reflect-metadata'
import { QueryTypes, Sequelize } from 'sequelize'
import type { Storage } from '@unvelt/contract'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { tellSweep } from '../src/events/tell.js'
import { storeReading } from '../src/reading/reading-store.js'
import { RetirementRow } from '../src/retirement/retirement.model.js'
import { keepPicture } from '../src/rehearsal/picture-store.js'
import { storePicture } from '../src/reading/picture-store.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { groupsOf, storeGroups } from '../src/toll/prediction-groups-store.js'
import { aReading, SOURCES } from './a-reading.js'
import { appForTest, KEY } from './app-for-test.js'

/** What a site takes in the database, and how it goes. */
let t: Awaited<ReturnType<typeof appForTest>>
let plain: PlainSite
let db: Sequelize
let site: string
let siteId: number
let pages: { id: number; path: string }[]
beforeAll(async () => {
  plain = await plainSite()
  t = await appForTest()
  db = t.app.get(Sequelize)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  siteId = body.id
  site = `/sites/${siteId}`
  pages = (await t.call('GET', `${site}/pages`)).body
})
afterAll(async () => {
  await t?.stop()
  await plain?.stop()
})

async function swept(at: string, more: Partial<SweepRow> = {}): Promise<number> {
  const [lens] = (await t.call('GET', `${site}/lenses`)).body
  const { id: sweepId } = await SweepRow.create({
    siteId,
    lensId: lens.id,
    purpose: 'survey',
    status: 'done',
    repeats: 1,
    variants: [{ name: 'live', rules: 'live' }],
    sources: SOURCES,
    startedAt: new Date(at),
    finishedAt: new Date(at),
    ...more,
  })
  for (const { id: pageId } of pages.slice(0, 2)) {
    const reading = { ...aReading({ slider: 900 }), timings: { load: 1 } } as never
    await storeReading({ sweepId, pageId, variant: 'live', repeat: 0 }, reading, SOURCES)
    await storeGroups(db, { sweepId, pageId }, groupsOf([reading], SOURCES))
    await db.query(
      `insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms,
       idle_bytes, main_thread_ms) values ($1, $2, 'live', 'slider', 1, 900, 900, 0, 0, 0, 0, 0)`,
      { bind: [sweepId, pageId] },
    )
  }
  return sweepId
}

const storage = async (): Promise<Storage> => (await t.call('GET', `${site}/storage`)).body
/** Rows that still belong to something, in every table that says so. */
async function rowsOf(column: 'sweep_id' | 'site_id', id: number): Promise<Record<string, number>> {
  const tables = await db.query<{ name: string }>(
    `select table_name name from information_schema.columns join information_schema.tables using (table_schema, table_name)
     where table_schema = 'public' and column_name = $1 and table_type = 'BASE TABLE'`,
    { bind: [column], type: QueryTypes.SELECT },
  )
  const counts: Record<string, number> = {}
  for (const { name } of tables) {
    const [row] = await db.query<{ n: number }>(`select count(*)::int n from "${name}" where ${column} = $1`, {
      bind: [id],
      type: QueryTypes.SELECT,
    })
    if (row!.n > 0) counts[name] = row!.n
  }
  return counts
}

it('says what each sweep takes, and what it is kept for', async () => {
  expect(await storage()).toEqual({ sweeps: [], keepFull: null, rehearsals: 0, rehearsalBytes: 0, bytes: 0 })
  const [old, proof, running, shown] = [
    await swept('2026-10-01T10:00:00Z'),
    await swept('2026-10-02T10:00:00Z', { purpose: 'proof' }),
    await swept('2026-10-03T10:00:00Z', { status: 'running', finishedAt: null }),
    await swept('2026-10-04T10:00:00Z'),
  ]
  const { sweeps, bytes } = await storage()
  expect(sweeps.map(({ id, keptFor, shown: isShown }) => [id, keptFor, isShown])).toEqual([
    [shown, null, true],
    [running, 'running', false],
    [proof, 'proof', false],
    [old, null, false],
  ])
  expect(sweeps[0]).toMatchObject({ pages: 2, readings: 2, tells: null })
  // The same readings take the same, and what is kept of them is more than their packed text.
  expect(sweeps[0]!.bytes).toBe(sweeps[3]!.bytes)
  const [packed] = await db.query<{ n: number }>('select sum(length(detail))::int n from reading where sweep_id = $1', {
    bind: [old],
    type: QueryTypes.SELECT,
  })
  expect(sweeps[3]!.bytes).toBeGreaterThan(packed!.n)
  expect(sweeps[3]!.bytes).toBeLessThan(packed!.n + 20_000)
  expect(bytes).toBe(sweeps.reduce((sum, each) => sum + each.bytes, 0))
})

it('counts a picture that several sweeps share for each, and once in all; it goes with the last', async () => {
  const before = (await storage()).bytes
  const ids = [await swept('2026-09-01T10:00:00Z'), await swept('2026-09-02T10:00:00Z')]
  const jpeg = randomBytes(50_000)
  for (const sweepId of ids)
    await storePicture(db, { sweepId, pageId: pages[0]!.id, variant: 'live' }, { jpeg, width: 9, height: 9 })
  const { bytes, sweeps } = await storage()
  const taken = ids.map((of) => sweeps.find(({ id }) => id === of)!.bytes)
  for (const each of taken) expect(each).toBeGreaterThan(jpeg.length)
  const more = bytes - before
  expect(more).toBeGreaterThan(jpeg.length)
  expect(more).toBeLessThan(taken[0]! + taken[1]! - jpeg.length + 1)
  const kept = async () => (await db.query('select id from picture_bytes', { type: QueryTypes.SELECT })).length
  // Without one that is under way, for which a name might be meant.
  await SweepRow.update({ status: 'cancelled' }, { where: { siteId, status: 'running' } })
  try {
    await t.call('DELETE', `/sweeps/${ids[0]}`)
    expect(await kept()).toBe(1)
    await t.call('DELETE', `/sweeps/${ids[1]}`)
    expect(await kept()).toBe(0)
  } finally {
    await SweepRow.update({ status: 'running' }, { where: { siteId, status: 'cancelled' } })
  }
  expect((await storage()).bytes).toBe(before)
})

it('deletes a survey with all that was worked out of it, and nothing else', async () => {
  const { sweeps } = await storage()
  const [shown, running, proof, old] = sweeps.map(({ id }) => id)
  expect((await t.call('DELETE', `/sweeps/${running}`)).status).toBe(409)
  expect((await t.call('DELETE', `/sweeps/${proof}`)).body.title).toMatch(/before and after/)
  const others = await rowsOf('sweep_id', shown!)
  const line = await fetch(`${await t.app.getUrl()}/api${site}/events`)
  const { status, body } = await t.call('DELETE', `/sweeps/${old}`)
  expect([status, body.sweeps.map(({ id }: { id: number }) => id)]).toEqual([200, [shown, running, proof]])
  expect(await rowsOf('sweep_id', old!)).toEqual({})
  expect(await rowsOf('sweep_id', shown!)).toEqual(others)
  expect((await t.call('DELETE', `/sweeps/${old}`)).status).toBe(404)
  // Whoever follows the site hears of it, and goes on following.
  const heard = line.body!.pipeThrough(new TextDecoderStream()).getReader()
  let said = ''
  while (!said.includes('sweep-gone')) said += (await heard.read()).value ?? ''
  expect(said).toContain(`{"id":${old}}`)
  await SweepRow.update({ repeats: 2 }, { where: { id: shown! } })
  await tellSweep(db, { siteId, sweepId: shown! })
  while (!said.includes('event: sweep\n')) said += (await heard.read()).value ?? ''
  await heard.cancel()
})

it('keeps what a retirement’s gain is told by', async () => {
  const before = await swept('2026-09-01T10:00:00Z')
  const gone = { siteId, slug: 'snowfall', name: 'Snowfall', version: '1', before: {}, worklist: [], tableNames: [] }
  const row = await RetirementRow.create({ ...gone, state: 'done', offAt: new Date('2026-09-10T10:00:00Z') } as never)
  const telling = (await storage()).sweeps.filter(({ keptFor }) => keptFor === 'gain')
  expect(telling.map(({ id, tells }) => [id, tells])).toContainEqual([before, 'Snowfall'])
  const refused = await t.call('DELETE', `/sweeps/${before}`)
  expect([refused.status, refused.body.title]).toEqual([409, 'What the retirement of Snowfall gained is told by this sweep.']) // prettier-ignore
  await row.update({ state: 'cancelled' })
  expect((await t.call('DELETE', `/sweeps/${before}`)).status).toBe(200)
})

it('deletes a site with everything of it, once it is named and nothing is under way', async () => {
  const { body: other } = await t.call('POST', '/sites', {
    address: plain.address,
    local: true,
    withoutConnector: true,
  })
  const { name } = (await t.call('GET', site)).body
  await t.call('POST', `${site}/drafts`, {
    rules: [{ addon: 'snowfall', effect: 'leave-out', place: { level: 'everywhere' } }],
  })
  await t.call('POST', `${site}/page-sets`, { name: 'two', paths: ['/', '/contact'] })
  expect(await t.call('DELETE', site, { name: 'Another' })).toMatchObject({
    status: 422,
    body: { errors: [{ field: 'name' }] },
  })
  expect((await t.call('DELETE', site, {})).status).toBe(422)
  expect((await t.call('DELETE', site, { name })).body.title).toMatch(/under way; stop it first/)
  await SweepRow.update({ status: 'cancelled' }, { where: { siteId, status: 'running' } })
  const rehearsal = await t.call('POST', `${site}/rehearsals`, { pageIds: [pages[0]!.id] })
  expect((await t.call('DELETE', site, { name })).body.title).toMatch(/rehearsal.*stop it first/)
  await t.call('POST', `/rehearsals/${rehearsal.body.id}/stop`)
  // One picture may be a sweep's and a rehearsal's.
  const picture = { jpeg: randomBytes(900), width: 30, height: 20 }
  const [lens] = (await t.call('GET', `${site}/lenses`)).body
  const { id: sweepId } = (await SweepRow.findOne({ where: { siteId } }))!
  await storePicture(db, { sweepId, pageId: pages[0]!.id, variant: 'before' }, picture)
  await keepPicture(db, { rehearsalId: rehearsal.body.id, pageId: pages[0]!.id, lensId: lens.id }, 0, picture)
  expect((await t.call('DELETE', site, { name })).status).toBe(204)
  expect((await t.call('GET', site)).status).toBe(404)
  expect(await rowsOf('site_id', siteId)).toEqual({})
  expect((await t.call('GET', `/sites/${other.id}`)).status).toBe(200)
})
