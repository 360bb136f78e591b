import 'reflect-metadata'
import type { Sequelize } from 'sequelize'
import { NO_SOURCES } from '@unvelt/core'
import type { Comparison } from '@unvelt/contract'
import { connect } from '../src/database/connect.js'
import { PageRow } from '../src/page/page.model.js'
import { SiteRow } from '../src/site/site.model.js'
import { SweepRow, type InventoryEntry } from '../src/sweep/sweep.model.js'
import { appForTest, KEY } from './app-for-test.js'

/** Two sweeps side by side, over what both have read. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let site: string
let siteId: number
let pages: { id: number; path: string; kind: string }[]
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

const entry = (slug: string, version: string, active = true): InventoryEntry => ({
  slug,
  name: slug,
  kind: 'plugin',
  version,
  active,
  featuresOn: 0,
})

interface Was {
  at: string
  inventory: InventoryEntry[]
  /** Requests by payer, on each of so many pages from one on. */
  payers: Record<string, number>
  pages: [from: number, to: number]
  /** Load times of the repeats after the first. */
  loadMs: number[]
  purpose?: 'survey' | 'proof'
}

async function swept({ at, inventory, payers, pages: [from, to], loadMs, purpose = 'survey' }: Was): Promise<number> {
  const [lens] = (await t.call('GET', `${site}/lenses`)).body
  const { id } = await SweepRow.create({
    siteId,
    lensId: lens.id,
    purpose,
    status: 'done',
    repeats: loadMs.length + 1,
    variants: [{ name: 'live', rules: 'live' }],
    sources: NO_SOURCES,
    inventory,
    startedAt: new Date(at),
    finishedAt: new Date(at),
  })
  for (const page of pages.slice(from, to)) {
    for (const [payer, requests] of Object.entries(payers))
      await db.query(
        `insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms,
         idle_bytes, main_thread_ms) values ($1, $2, 'live', $3, $4, $5, $5, 5, 3, 1, 0, 0)`,
        { bind: [id, page.id, payer, requests, requests * 1_000] },
      )
    for (const [n, ms] of [9_999, ...loadMs].entries())
      await db.query(
        `insert into reading (sweep_id, page_id, variant, repeat, load_ms, server_ms) values ($1, $2, 'live', $3, $4, 5)`,
        { bind: [id, page.id, n + 1, ms] },
      )
  }
  return id
}

const compare = async (query: string) => (await t.call('GET', `${site}/comparison?${query}`)).body as Comparison

it('says what the mean page costs less, whose doing it is, and how sure the times are', async () => {
  const then = await swept({
    at: '2026-10-01T00:00:00Z',
    inventory: [entry('pass-it-on', '3.0.4'), entry('ticker', '1.0'), entry('canopy-slider', '2.8.1')],
    payers: { content: 10, 'pass-it-on': 6, 'outside:heronmark.localhost': 4 },
    pages: [0, 4],
    loadMs: [900, 910, 890],
  })
  const now = await swept({
    at: '2026-11-01T00:00:00Z',
    inventory: [entry('pass-it-on', '3.0.5'), entry('canopy-slider', '2.8.1', false), entry('mist', '1')],
    payers: { content: 10, 'pass-it-on': 1, mist: 1 },
    pages: [1, 5],
    loadMs: [700, 705, 695],
  })
  const found = await compare(`then=${then}&now=${now}`)
  expect(found.pages.map(({ path }) => path)).toEqual(pages.slice(1, 4).map(({ path }) => path))
  expect(found.onlyThen).toEqual([pages[0]!.path])
  expect(found.onlyNow).toEqual([pages[4]!.path])
  expect(found.mean).toMatchObject({ then: { requests: 20, transferBytes: 20_000 }, now: { requests: 12 } })
  // The first look at a page gives no times.
  expect(found.times.find(({ measure }) => measure === 'loadMs')).toMatchObject({
    then: expect.closeTo(900),
    now: expect.closeTo(700),
    difference: expect.closeTo(-200),
    word: 'better',
    pages: 3,
  })
  // What never varies says nothing of how sure it is.
  expect(found.times.find(({ measure }) => measure === 'serverMs')).toMatchObject({ difference: 0, low: null })
  const of = (slug: string) => found.payers.find((payer) => payer.slug === slug)
  expect(of('pass-it-on')).toMatchObject({ name: 'Pass It On', change: 'updated', from: '3.0.4', to: '3.0.5' })
  expect(of('mist')).toMatchObject({ change: 'come', then: { requests: 0 }, now: { requests: 1 } })
  expect(of('outside:heronmark.localhost')).toMatchObject({ change: null, now: { requests: 0 } })
  expect(of('content')).toMatchObject({ name: 'Content', change: null })

  const inside = await compare(`then=${then}&now=${now}&outsiders=out`)
  expect(inside.mean.then.requests).toBe(16)
  const [first] = found.pages
  const alone = await compare(`then=${then}&now=${now}&path=${encodeURIComponent(first!.path)}`)
  expect(alone.pages).toHaveLength(1)
  const kind = await compare(`then=${then}&now=${now}&kind=${first!.kind}&weigh=visits`)
  expect(new Set(kind.pages.map((page) => page.kind))).toEqual(new Set([first!.kind]))
  expect(kind.pages.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(1)
})

it('says what is wrong with what is asked for', async () => {
  const proof = await swept({
    at: '2026-09-01T00:00:00Z',
    inventory: [],
    payers: {},
    pages: [0, 0],
    loadMs: [],
    purpose: 'proof',
  })
  const asked = (query: string) => t.call('GET', `${site}/comparison?${query}`)
  expect((await asked('then=1')).body.errors.map(({ field }: { field: string }) => field)).toContain('now')
  expect((await asked(`then=${proof}&now=${proof}`)).body).toMatchObject({ status: 422, errors: [{ field: 'then' }] })
  expect((await asked('then=99999&now=99998')).status).toBe(404)
  expect((await asked('then=1&now=1&wiegh=visits')).status).toBe(422)
})

it('a copy and the live site are two sites whose pages find each other by their paths', async () => {
  const own = (await SiteRow.findByPk(siteId))!
  const copy = await SiteRow.create({
    address: 'http://copy.localhost:9',
    local: true,
    name: 'A copy',
    cms: own.cms,
    connector: null,
    connectorKey: null,
    ownHosts: [],
    folders: [],
    assetRegister: {},
  })
  const page = await PageRow.create({
    siteId: copy.id,
    path: pages[1]!.path,
    title: 'The same page',
    kind: 'page',
    area: 'public',
    position: 0,
    modified: null,
    views: null,
  })
  const { id } = await SweepRow.create({
    siteId: copy.id,
    lensId: null,
    purpose: 'survey',
    status: 'done',
    repeats: 1,
    variants: [{ name: 'live', rules: 'live' }],
    sources: NO_SOURCES,
  })
  await db.query(
    `insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms,
     idle_bytes, main_thread_ms) values ($1, $2, 'live', 'content', 7, 700, 700, 0, 0, 0, 0, 0)`,
    { bind: [id, page.id] },
  )
  const live = await swept({
    at: '2026-11-20T00:00:00Z',
    inventory: [entry('pass-it-on', '3.0.5')],
    payers: { content: 10 },
    pages: [0, 3],
    loadMs: [],
  })
  const found = await compare(`then=${live}&now=${id}`)
  expect(found.pages).toEqual([expect.objectContaining({ id: page.id, path: pages[1]!.path, title: 'The same page' })])
  expect([found.then.site, found.now.site]).toEqual([own.name, 'A copy'])
  expect(found.mean).toMatchObject({ then: { requests: 10 }, now: { requests: 7 } })
  // A site that tells no inventory says nothing of who came and went.
  expect(found.payers).toEqual([expect.objectContaining({ slug: 'content', change: null })])
})

it('a sweep that has read nothing is compared with nothing, and says so', async () => {
  const empty = await swept({ at: '2026-08-01T00:00:00Z', inventory: [], payers: {}, pages: [0, 0], loadMs: [] })
  const found = await compare(`then=${empty}&now=${empty}`)
  expect(found).toMatchObject({ pages: [], payers: [], times: [], visitsKnown: false })
  expect(found.mean.now.requests).toBe(0)
})
