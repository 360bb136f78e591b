import 'reflect-metadata'
import { gzipSync } from 'node:zlib'
import pg from 'pg'
import type { Sequelize } from 'sequelize'
import { NO_SOURCES } from '@unvelt/core'
import { reading, record } from '../../core/test/reading-arbitrary.js'
import { AddOnRow } from '../src/add-on/add-on.model.js'
import { connect } from '../src/database/connect.js'
import { storeReading } from '../src/reading/reading-store.js'
import { RehearsalRow } from '../src/rehearsal/rehearsal.model.js'
import { runRetirement } from '../src/retirement/run-retirement.js'
import { SiteRow } from '../src/site/site.model.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { answersAgain } from '../src/snapshot/page-answers.js'
import { PageAnswerRow } from '../src/snapshot/page-answer.model.js'
import { appForTest, KEY } from './app-for-test.js'
import { askSite } from '../../testing/ask-site.js'
import { aHold, workerTools } from './worker-tools.js'

/** The old visit counter goes for good, with its tables, and comes back row for row. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let site: string
let siteId: number
let pages: { id: number; path: string }[]
beforeAll(async () => {
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  siteId = body.id
  site = `/sites/${siteId}`
  pages = (await t.call('GET', `${site}/pages`)).body
})
afterAll(async () => {
  await db?.close()
  await t?.stop()
})

/** A whole sweep, with what the counter costs on two pages; how it is read is others' business. */
async function swept(at: Date, requests: number): Promise<void> {
  const [lens] = (await t.call('GET', `${site}/lenses`)).body
  const sweep = await SweepRow.create({
    siteId,
    lensId: lens.id,
    purpose: 'survey',
    status: 'done',
    repeats: 1,
    variants: [{ name: 'live', rules: 'live' }],
    sources: NO_SOURCES,
    startedAt: at,
    finishedAt: at,
  })
  for (const { id } of pages.slice(0, 2))
    await db.query(
      `insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms,
       idle_bytes, main_thread_ms) values ($1, $2, 'live', 'page-tally', $3, 1000, 1000, 5, 3, 1, 0, 0)`,
      { bind: [sweep.id, id, requests] },
    )
}

const tools = () => workerTools(db)
const act = async (id: number, name: string, more: object = {}) => {
  const asked = await t.call('POST', `/retirements/${id}/do`, { act: name, ...more })
  if (asked.status === 200) await runRetirement(tools(), { id }, aHold)
  return asked
}
const sheetOf = async (id: number) => (await t.call('GET', `/retirements/${id}`)).body
const stepNow = async (id: number) =>
  (await sheetOf(id)).steps.find(({ state }: { state: string }) => state === 'now')?.step ?? null

async function theirs<T>(text: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: t.standinDatabaseUrl })
  await client.connect()
  return (await client.query(text).finally(() => client.end())).rows as T[]
}

it('goes step by step, stops where it must, and comes back', async () => {
  const place = await t.call('GET', `${site}/retirements`)
  expect(place.status).toBe(200)
  expect(place.body.candidates.map(({ addon }: { addon: string }) => addon)).not.toContain('hollow')
  expect((await t.call('POST', `${site}/retirements`, { slug: 'hollow' })).status).toBe(409)
  expect((await t.call('POST', `${site}/retirements`, { slug: 'nothing-such' })).status).toBe(404)

  const { body: begun } = await t.call('POST', `${site}/retirements`, { slug: 'page-tally', who: 'Ilse' })
  const { id } = begun
  expect(begun.steps[0]).toMatchObject({ step: 'use', state: 'now' })
  expect((await t.call('POST', `${site}/retirements`, { slug: 'page-tally' })).status).toBe(409)
  await swept(new Date(Date.now() - 60_000), 3)
  expect(await stepNow(id)).toBe('successor')

  // Nothing is done at the site before its turn.
  for (const early of ['off', 'remove', 'clear'])
    expect((await act(id, early, { ids: ['table:tally_views'] })).status).toBe(409)
  const change = (to: object) => t.call('PATCH', `/retirements/${id}`, to)
  await change({ successor: { kind: 'server', note: 'The host counts.' } })
  expect(await stepNow(id)).toBe('word')
  await change({ word: 'Ilse', note: 'I have the figures.' })
  expect(await stepNow(id)).toBe('snapshot')

  // Killed behind the making, the same snapshot is found and not made again.
  await t.call('POST', `/retirements/${id}/do`, { act: 'snapshot' })
  let asked = 0
  const killed = {
    ...aHold,
    check() {
      if (++asked === 2) throw new Error('the process ends here')
    },
  }
  await expect(runRetirement(tools(), { id }, killed)).rejects.toThrow('ends here')
  expect((await sheetOf(id)).doing).toBe('snapshot')
  await runRetirement(tools(), { id }, aHold)
  expect(await theirs('select 1 from loam_snapshots')).toHaveLength(1)
  const { snapshot } = await sheetOf(id)
  expect(snapshot).toMatchObject({ sound: true, tables: 1 })
  expect(await stepNow(id)).toBe('rehearsal')

  // What is kept is not what was written: nothing goes.
  await theirs(`insert into snapshot_${snapshot.id}.loam_options values ('x', 'y', 'z')`)
  await act(id, 'snapshot')
  expect((await sheetOf(id)).snapshot).toMatchObject({ id: snapshot.id + 1, sound: true })
  const rehearsed = await t.call('POST', `/retirements/${id}/rehearse`)
  expect(rehearsed.body.rehearsalId).toEqual(expect.any(Number))
  // How pages are rehearsed is told elsewhere; here only that its end counts.
  await RehearsalRow.update({ state: 'done', finishedAt: new Date() }, { where: { id: rehearsed.body.rehearsalId } })
  expect(await stepNow(id)).toBe('off')

  expect((await act(id, 'off')).status).toBe(200)
  expect(await sheetOf(id)).toMatchObject({ isActive: false, failure: null })
  expect(await stepNow(id)).toBe('watch')
  expect((await t.call('PATCH', `/retirements/${id}`, { state: 'cancelled' })).status).toBe(409)
  await change({ watchDays: 0 })
  expect((await act(id, 'remove')).status).toBe(409)
  await swept(new Date(), 0)
  expect(await stepNow(id)).toBe('watch')
  await askSite(t.standin.address, '/search?q=Tally+of+visits')
  await askSite(t.standin.address, '/search?q=visits')
  await act(id, 'look')
  // That somebody searches for it is told, and keeps nothing from going.
  expect(await sheetOf(id)).toMatchObject({
    watchWords: ['tally'],
    searched: [{ asked: 'tally of visits', times: 1 }],
  })
  await change({ watchWords: ['visits'] })
  await act(id, 'look')
  expect((await sheetOf(id)).searched).toHaveLength(2)
  expect((await t.call('PATCH', `/retirements/${id}`, { watchWords: [''] })).status).toBe(422)
  expect(await stepNow(id)).toBe('removal')
  expect(await sheetOf(id)).toMatchObject({ gain: { pages: 2, requests: -3 } })

  // What it wrote since the snapshot is not lost with it.
  const old = (await sheetOf(id)).snapshot.id
  await theirs(`insert into tally_views values ('/late', now())`)
  const before = await theirs<{ count: string }>('select count(*) from tally_views')
  expect((await act(id, 'remove')).status).toBe(200)
  const removed = await sheetOf(id)
  expect(removed).toMatchObject({ isInstalled: false, isBack: false, failure: null })
  expect(removed.snapshot.id).toBeGreaterThan(old)
  expect(removed.leftovers.map((one: { id: string }) => one.id)).toContain('table:tally_views')
  expect(await stepNow(id)).toBe('leftovers')
  // Spoilt since it was made, the snapshot keeps what is left from going.
  const kept = removed.snapshot.id
  const part = `update loam_snapshot_parts set checksum = $$ where snapshot_id = ${kept} and name = 'tally_views'`
  const [{ checksum }] = (await theirs<{ checksum: string }>(
    `select checksum from loam_snapshot_parts where snapshot_id = ${kept} and name = 'tally_views'`,
  )) as [{ checksum: string }]
  await theirs(part.replace('$$', () => `'0'`))
  await act(id, 'clear', { ids: ['table:tally_views'] })
  expect((await sheetOf(id)).failure).toMatch('can’t be relied on')
  expect(await stepNow(id)).toBe('leftovers')
  await theirs(part.replace('$$', () => `'${checksum}'`))
  // Others' leftovers are not its own, whoever asks.
  await act(id, 'clear', { ids: ['table:vbook_entries', 'table:tally_views'] })
  expect(
    await theirs(`select 1 from pg_tables where schemaname = 'public' and tablename = 'vbook_entries'`),
  ).toHaveLength(1)
  expect(await theirs(`select 1 from pg_tables where schemaname = 'public' and tablename = 'tally_views'`)).toEqual([])
  const rest = (await sheetOf(id)).leftovers.map((one: { id: string }) => one.id)
  if (rest.length > 0) await act(id, 'clear', { ids: rest })
  expect(await stepNow(id)).toBe('proof')
  expect((await change({ state: 'done' })).status).toBe(409)
  await swept(new Date(), 0)
  expect((await change({ state: 'done' })).body.state).toBe('done')
  expect((await t.call('GET', `${site}/retirements`)).body.retirements[0]).toMatchObject({
    state: 'done',
    isBack: false,
  })

  const { body: second } = await t.call('POST', `${site}/retirements`, { slug: 'guestbook' })
  await t.call('PATCH', `/retirements/${second.id}`, { state: 'cancelled' })
  const { body: third } = await t.call('POST', `${site}/retirements`, { slug: 'guestbook' })
  expect((await t.call('PATCH', `/retirements/${second.id}`, { state: 'open' })).status).toBe(409)
  await t.call('PATCH', `/retirements/${third.id}`, { state: 'cancelled' })

  expect((await act(id, 'restore')).status).toBe(200)
  expect(await sheetOf(id)).toMatchObject({ isInstalled: true, isActive: false, failure: null, state: 'open' })
  expect(await theirs<{ count: string }>('select count(*) from tally_views')).toEqual(before)
  const restored = await sheetOf(id)
  const said = restored.log.at(-1).said as string
  expect(said).toMatch(/ (\d+) of \1 pages byte for byte as when it was made/)
  // What is not as it was is named, and a site that does not answer is not said to be the same.
  const itsSite = (await SiteRow.findByPk(siteId))!
  const { pageId } = (await PageAnswerRow.findOne({ where: { snapshotId: restored.snapshot.id } }))!
  await PageAnswerRow.update({ parts: gzipSync('["<p>Elms"]') }, { where: { pageId } })
  expect(await answersAgain(itsSite, KEY, restored.snapshot.id)).toMatch(/Different: \/\S* \(first “<p>Elms”, now “<!/)
  itsSite.address = 'http://127.0.0.1:1'
  expect(await answersAgain(itsSite, KEY, restored.snapshot.id)).toMatch(/ 0 of .* gave no answer/)
  // As it was when the snapshot was made: off.
  await act(id, 'on')
  expect(await sheetOf(id)).toMatchObject({ isActive: true, offAt: null })
})

it('a site that does not answer is said, and what was asked for can be asked for again', async () => {
  const { body } = await t.call('POST', `${site}/retirements`, { slug: 'guestbook' })
  await t.call('POST', `/retirements/${body.id}/do`, { act: 'snapshot' })
  await theirs('alter table loam_snapshots rename to away')
  await runRetirement(tools(), { id: body.id }, aHold)
  const failed = await sheetOf(body.id)
  expect(failed).toMatchObject({ doing: null, snapshot: null, failure: expect.stringMatching(/snapshots/) })
  expect(failed.log.at(-1).said).toMatch('failed')
  await theirs('alter table away rename to loam_snapshots')
  await act(body.id, 'snapshot')
  expect(await sheetOf(body.id)).toMatchObject({ failure: null, snapshot: { sound: true } })
  expect((await t.call('PATCH', `/retirements/${body.id}`, { state: 'cancelled' })).body.state).toBe('cancelled')
})

it('a disk that is full in mid-snapshot leaves nothing half made, and nothing goes without one', async () => {
  const { body } = await t.call('POST', `${site}/retirements`, { slug: 'guestbook' })
  const before = await theirs<{ n: number }>(
    `select count(*)::int n from pg_namespace where nspname like 'snapshot\\_%'`,
  )
  await theirs(
    `create function full_disk() returns trigger language plpgsql as $$ begin
       if (select count(*) from loam_snapshot_parts where snapshot_id = new.snapshot_id) >= 3 then
         raise exception 'could not extend file: No space left on device' using errcode = '53100';
       end if;
       return new;
     end $$`,
  )
  await theirs(
    'create trigger full_disk before insert on loam_snapshot_parts for each row execute function full_disk()',
  )
  await act(body.id, 'snapshot')
  expect(await sheetOf(body.id)).toMatchObject({
    doing: null,
    snapshot: null,
    failure: expect.stringContaining('disk is full'),
  })
  expect(await theirs(`select count(*)::int n from pg_namespace where nspname like 'snapshot\\_%'`)).toEqual(before)
  expect((await act(body.id, 'remove')).status).toBe(409)
  await theirs('drop trigger full_disk on loam_snapshot_parts')
  await act(body.id, 'snapshot')
  expect(await sheetOf(body.id)).toMatchObject({ failure: null, snapshot: { sound: true } })
  await t.call('PATCH', `/retirements/${body.id}`, { state: 'cancelled' })
})

it('features that nobody uses are switched off together, and on again; those in use stay', async () => {
  const { body: place } = await t.call('GET', `${site}/retirements`)
  const idle = place.idleFeatures.find(({ addon }: { addon: string }) => addon === 'grove-builder')
  expect(idle.features.length).toBeGreaterThan(30)
  const features = idle.features.map(({ slug }: { slug: string }) => slug)
  const unknown = await t.call('POST', `${site}/retirements`, { slug: 'grove-builder', features: ['no-such'] })
  expect(unknown.status).toBe(422)
  const { body: begun } = await t.call('POST', `${site}/retirements`, { slug: 'grove-builder', features })
  const { id } = begun
  expect(begun.features).toHaveLength(features.length)
  expect(await stepNow(id)).toBe('word')
  await t.call('PATCH', `/retirements/${id}`, { word: 'Ilse' })
  await act(id, 'snapshot')
  const { body: rehearsed } = await t.call('POST', `/retirements/${id}/rehearse`)
  await RehearsalRow.update({ state: 'done', finishedAt: new Date() }, { where: { id: rehearsed.rehearsalId } })
  expect((await act(id, 'off')).status).toBe(200)
  expect(await sheetOf(id)).toMatchObject({ isActive: false, isInstalled: true, failure: null })
  expect((await act(id, 'remove')).status).toBe(409)
  const on = async () =>
    (await t.call('GET', `${site}/add-ons`)).body
      .find(({ slug }: { slug: string }) => slug === 'grove-builder')
      .features.filter((feature: { on: boolean }) => feature.on).length
  expect(await on()).toBe(idle.on - features.length)
  await t.call('POST', `${site}/refresh`)
  expect(await on()).toBe(idle.on - features.length)
  await act(id, 'on')
  await t.call('POST', `${site}/refresh`)
  expect(await on()).toBe(idle.on)
})

it('what was off before is watched from when it is known to be off, and can go', async () => {
  const at = new Date(Date.now() - 30 * 86_400_000)
  const entry = { slug: 'ticker', name: 'Ticker', kind: 'plugin', version: '1', active: false, featuresOn: 0 }
  await swept(at, 0)
  await SweepRow.update({ inventory: [entry] }, { where: { siteId, startedAt: at } })
  const { body: begun } = await t.call('POST', `${site}/retirements`, { slug: 'ticker' })
  expect(begun).toMatchObject({ isActive: false, offAt: at.toISOString() })
  const why = async () =>
    (await sheetOf(begun.id)).steps.find(({ step }: { step: string }) => step === 'watch').why as string | null
  expect(await why()).toBe('It is still to be looked for what was missed.')
  await t.call('PATCH', `/retirements/${begun.id}`, { successor: { kind: 'nothing' }, word: 'Ilse' })
  expect((await act(begun.id, 'snapshot')).status).toBe(200)
  expect((await act(begun.id, 'look')).status).toBe(200)
  expect(await why()).toBeNull()
  const removed = await act(begun.id, 'remove')
  expect([removed.status, removed.body.title]).toEqual([200, undefined])
  expect(await sheetOf(begun.id)).toMatchObject({ isInstalled: false, failure: null })
})

it('what somebody switches off by hand is watched from then, and anew when it was on between', async () => {
  const { body: begun } = await t.call('POST', `${site}/retirements`, { slug: 'snowfall' })
  expect(begun).toMatchObject({ isActive: true, offAt: null })
  const byHand = async (active: boolean) => {
    await askSite(t.standin.address, '/unvelt/v1/add-ons/snowfall/active', {
      method: 'PUT',
      headers: { authorization: `Bearer ${KEY}` },
      body: { active },
    })
    await t.call('POST', `${site}/refresh`)
    return (await sheetOf(begun.id)).offAt as string | null
  }
  const first = await byHand(false)
  expect(Date.parse(first!)).toBeGreaterThan(Date.parse(begun.openedAt))
  expect(await byHand(false)).toBe(first)
  expect(await byHand(true)).toBeNull()
  expect(Date.parse((await byHand(false))!)).toBeGreaterThan(Date.parse(first!))
})

it('where pages ask the hosts again of what is gone, the list of the gone says so', async () => {
  const gone = async () =>
    (await t.call('GET', `${site}/retirements`)).body.retirements.find(
      ({ slug }: { slug: string }) => slug === 'ticker',
    )
  await AddOnRow.update({ outsideHosts: ['ticker.test'] }, { where: { siteId, slug: 'ticker' } })
  expect(await gone()).toMatchObject({ removedAt: expect.any(String), seenAgain: [] })
  await swept(new Date(), 0)
  const sweep = (await SweepRow.findOne({ where: { siteId }, order: [['id', 'DESC']] }))!
  await sweep.update({ sources: { ...NO_SOURCES, ownHosts: ['site.test'] } })
  const document = record('page', { url: 'https://site.test/', type: 'document' })
  const theirs = record('t', { url: 'https://tape.ticker.test/tape.js' })
  const others = record('o', { url: 'https://other.test/o.js' })
  const place = { sweepId: sweep.id, pageId: pages[0]!.id, variant: 'live', repeat: 1 }
  await storeReading(place, reading([document, theirs, others]), NO_SOURCES)
  expect((await gone()).seenAgain).toEqual(['tape.ticker.test'])
})
