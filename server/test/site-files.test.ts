import 'reflect-metadata'
import { Sequelize } from 'sequelize'
import type { LookedAtFile, SiteFiles } from '@unvelt/contract'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { PageRow } from '../src/page/page.model.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { SOURCES } from './a-reading.js'
import { addFileToll } from './add-file-toll.js'
import { appForTest, KEY } from './app-for-test.js'

/** The scripts and styles of all pages, each weighed once. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let site: string
let siteId: number
let pages: PageRow[]
let sweepId: number
const A = 'http://site.test/a.js'
const B = 'http://site.test/b.css'
const THEIRS = 'http://elsewhere.test/c.js'

beforeAll(async () => {
  t = await appForTest()
  db = t.app.get(Sequelize)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  siteId = body.id
  site = `/sites/${siteId}`
  const where = { siteId, area: 'public', signedIn: false }
  pages = (await PageRow.findAll({ where, order: ['position'] })).slice(0, 3)
  await PageRow.update({ views: 0 }, { where: { siteId } })
  for (const [n, page] of pages.entries()) await page.update({ views: [700, 200, 100][n]! })
  const [{ id: lensId }] = (await t.call('GET', `${site}/lenses`)).body
  const sweep = await SweepRow.create({
    siteId,
    lensId,
    purpose: 'survey',
    status: 'done',
    repeats: 1,
    variants: [{ name: 'live', rules: 'live' }],
    sources: SOURCES,
  })
  sweepId = sweep.id
  const loads: [number, string, string, string][] = [
    [0, A, 'script', 'slider'],
    [1, A, 'script', 'slider'],
    [1, B, 'style', 'theme'],
    [2, A, 'script', 'slider'],
    [2, THEIRS, 'script', 'share'],
    [2, 'http://site.test/hill.jpg', 'image', 'content'],
  ]
  for (const [page, url, type, payer] of loads)
    await addFileToll(db, { sweepId, pageId: pages[page]!.id, payer, url, type, transferBytes: 1000 })
  await db.query(
    `insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms,
     idle_bytes, main_thread_ms) values ($1, $2, 'live', 'slider', 1, 900, 900, 0, 0, 0, 0, 0)`,
    { bind: [sweepId, pages[0]!.id] },
  )
})
afterAll(() => t?.stop())

const files = async (): Promise<SiteFiles> => (await t.call('GET', `${site}/files`)).body
const weighed = (url: string, bytes: number, packed: number, isOwn = true): LookedAtFile => ({
  ...{ url, type: 'script', isOwn, bytes, encoding: '', plain: bytes, gzip: packed, brotli: packed, minified: null },
  ...{ keptSeconds: null, hasFingerprint: false, why: null },
})
/** As if a worker had weighed a page's files. */
async function look(pageId: number, found: LookedAtFile[], failure: string | null = null): Promise<void> {
  const where = { siteId, pageId, kind: 'files', state: 'waiting' }
  await OnDemandRow.update(
    { state: 'done', failure, taken: { toLookAt: found.length, leftOut: 0, files: found }, takenAt: new Date() },
    { where },
  )
}
const waiting = async () =>
  (await OnDemandRow.findAll({ where: { siteId, kind: 'files', state: 'waiting' }, order: ['id'] })).map(
    ({ pageId }) => pageId,
  )

it('asks the fewest pages that have every file, and those alone that have what is left', async () => {
  expect(await files()).toMatchObject({ files: 3, weighed: 0, pagesToLookAt: 2, waiting: 0, found: [], since: null })
  expect((await t.call('POST', `${site}/files`)).status).toBe(202)
  expect((await t.call('POST', `${site}/files`)).status).toBe(409)
  const [second, third] = [pages[1]!.id, pages[2]!.id]
  expect((await waiting()).sort()).toEqual([second, third].sort())
  await look(second, [weighed(A, 500_000, 100_000), weighed(B, 2000, 1900)])
  // Of a page that could not be read its files are left.
  await look(third, [], 'The site closed the connection.')
  const half = await files()
  expect(half).toMatchObject({ files: 3, weighed: 2, pagesToLookAt: 1, waiting: 0 })
  expect(half.failed).toEqual([{ pageId: third, failure: 'The site closed the connection.' }])
  await t.call('POST', `${site}/files`)
  expect(await waiting()).toEqual([third])
  await look(third, [weighed(A, 500_000, 100_000), weighed(THEIRS, 90_000, 30_000, false)])
  expect(await files()).toMatchObject({ weighed: 3, lost: 0, pagesToLookAt: 2, failed: [] })
})

it('tells what each spares in 1,000 page views, whose it is, and the next move for the site’s own', async () => {
  const { found, together, leastBytes, byViews } = await files()
  expect(byViews).toBe(true)
  expect(
    found.map(({ file, payer, pageIds, spared }) => [file.url, payer, pageIds.length, Math.round(spared)]),
  ).toEqual([
    [A, 'slider', 3, 400_000_000],
    [THEIRS, 'share', 1, 6_000_000],
    [B, 'theme', 1, 20_000],
  ])
  expect(together).toBeCloseTo(500_000 * 1000 + 2000 * 200 + 90_000 * 100, 0)
  expect(leastBytes).toBeGreaterThan(20_000)
  const { moves } = (await t.call('GET', `${site}/standing`)).body
  const move = moves.find(({ type }: { type: string }) => type === 'files')
  expect(move).toMatchObject({ key: 'files:all', spared: { pages: 3, transferBytes: 1_200_000 }, rules: [] })
  expect(move.reason).toMatch(/^One file of the site’s own, 1 of them lighter when the server packs them/)
})

/** As if another address had been read. */
async function renamed(from: string, to: string): Promise<void> {
  await db.query(
    `insert into file_address (site_id, url, type) select site_id, $2, type from file_address where url = $1 on conflict do nothing`,
    { bind: [from, to] },
  )
  await db.query(
    `update page_file set file_id = (select id from file_address where url = $2) where file_id = (select id from file_address where url = $1)`,
    { bind: [from, to] },
  )
}

it('what was looked for in vain is told, and not looked for on and on', async () => {
  const gone = 'http://site.test/b.css?at=1'
  await renamed(B, gone)
  expect(await files()).toMatchObject({ files: 3, weighed: 2, lost: 1, pagesToLookAt: 2 })
  await renamed(gone, B)
})

it('is stopped with what was weighed, and says what is missing where nothing was swept', async () => {
  await t.call('POST', `${site}/files`)
  expect((await waiting()).length).toBe(2)
  expect((await t.call('DELETE', `${site}/files`)).body).toMatchObject({ waiting: 0, weighed: 3 })
  await SweepRow.destroy({ where: { id: sweepId } })
  const { status, body } = await t.call('POST', `${site}/files`)
  expect([status, body.title]).toEqual([409, expect.stringMatching(/Sweep the site first/)])
})
