import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import type { Deployment, MadeCopyView, NowhereView, Prediction } from '@unvelt/contract'
import { askSite } from '../../testing/ask-site.js'
import { launchBrowser } from '../src/browser/browser.js'
import { connect } from '../src/database/connect.js'
import { keepMadeCopy } from '../src/made-copy/keep-made-copy.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runPageJob } from '../src/worker/page-job.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { appForTest, KEY } from './app-for-test.js'
import { aHold, workerTools } from './worker-tools.js'

/** A cleaned stylesheet is served in the place of the site's own, by a rule, as long as the file is what it was made from. */
const THEME = '/themes/hollow/hollow.css'
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let browser: Browser
let site: string
let siteId: number
let made: MadeCopyView

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  siteId = body.id
  site = `/sites/${siteId}`
  await sweep('/about')
}, 300_000)
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
})
afterEach(() => t.call('DELETE', `${site}/drafts`))

async function sweep(path: string): Promise<number> {
  const { body: pages } = await t.call('GET', `${site}/pages`)
  const pageId = pages.find((page: { path: string }) => page.path === path).id as number
  const { body } = await t.call('POST', `${site}/sweeps`, { pageIds: [pageId], repeats: 1 })
  await runPageJob(workerTools(db, { browser }), { sweepId: body.id, pageId }, aHold)
  return body.id
}
const rule = ({ content, from }: { content: string; from: string }, part: object = {}) => ({
  ...{ addon: 'hollow', file: THEME, effect: 'local', copy: { content, from }, place: { level: 'kind', kind: 'page' } },
  ...part,
})
async function ended(begun: ReturnType<typeof t.call>): Promise<Deployment> {
  const { status, body } = await begun
  expect([status, body.title]).toEqual([200, undefined])
  for (;;) {
    const { body: now } = await t.call('GET', `/deployments/${body.id}`)
    if (now.finishedAt !== null) return now
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
}
const putLive = () => ended(t.call('POST', `${site}/rules/put-live`, { readAgain: 'none', unrehearsed: 'a test' }))
const predicted = async (rules: object[]): Promise<Prediction> =>
  (await t.call('POST', `${site}/predictions`, { rules })).body
const styles = async (path: string) =>
  [...(await askSite(t.standin.address, path)).text.matchAll(/<link[^>]+rel="stylesheet"[^>]*>/g)].map(([tag]) => tag)
const theme = async (path: string) => (await styles(path)).find((tag) => /hollow\.css|\/local\//.test(tag))

it('is made of a stylesheet that was looked through, and of no other', async () => {
  expect((await t.call('POST', `${site}/nowhere/files/0/copy`)).status).toBe(404)
  await t.call('POST', `${site}/nowhere`)
  const row = (await OnDemandRow.findOne({ where: { siteId, kind: 'nowhere', state: 'waiting' } }))!
  await runReadOnDemand(workerTools(db, { browser }), { id: row.id }, aHold)
  const view = (await t.call('GET', `${site}/nowhere`)).body as NowhereView
  expect(view.takesCopies).toBe(true)
  const file = view.files.find(({ url }) => url.endsWith(THEME))!
  expect(file.isCleaned).toBe(true)
  const { status, body } = await t.call('POST', `${site}/nowhere/files/${file.n}/copy`)
  expect(status).toBe(201)
  made = body
  expect(made).toMatchObject({ addon: 'hollow', file: THEME, lighterBy: file.wire - file.cleanedWire! })
  expect(made.leftOut).toBeGreaterThan(100)
  expect((await t.call('POST', `${site}/nowhere/files/${file.n}/copy`)).body).toEqual(made)
  const whole = view.files.find(({ isCleaned }) => !isCleaned)!
  expect((await t.call('POST', `${site}/nowhere/files/${whole.n}/copy`)).status).toBe(409)
}, 300_000)

it('is predicted from what is kept of the page as it would be from its readings', async () => {
  const { saved, perPage } = await predicted([rule(made)])
  expect(perPage.map(({ path }) => path)).toEqual(['/about'])
  expect(saved.transferBytes).toBe(made.lighterBy)
  expect(saved.requests).toBe(0)
  await db.query('update page_file set in_html = null')
  expect((await predicted([rule(made)])).saved).toEqual(saved)
  await db.query('update page_file set in_html = true')
}, 300_000)

it('can be drafted only for the file that it was made of, and only here', async () => {
  const draft = async (one: object) => (await t.call('POST', `${site}/drafts`, { rules: [one] })).body
  expect((await draft(rule(made))).rules).toMatchObject([{ copy: { content: made.content, from: made.from } }])
  const elsewhere = await draft(rule(made, { file: '/generated/hollow.css' }))
  expect(elsewhere).toMatchObject({ status: 422, errors: [{ field: 'rules/0/copy' }] })
  const unknown = await draft(rule({ content: `sha384-${'x'.repeat(64)}`, from: made.from }))
  expect(unknown).toMatchObject({ status: 422, title: expect.stringContaining('was made for this site') })
  // Without one, the file is where it would be copied to.
  const { copy: _, ...plain } = rule(made)
  expect(await draft(plain)).toMatchObject({ status: 422, title: expect.stringContaining('own host already') })
})

it('is served once the rule is live, charged to whom the file was, and no longer when it is taken back', async () => {
  expect(await theme('/about')).toContain(THEME)
  await t.call('POST', `${site}/drafts`, { rules: [rule(made)] })
  expect(await putLive()).toMatchObject({ state: 'live' })
  const tag = (await theme('/about'))!
  expect(tag).toContain(`integrity="${made.content}"`)
  const [, path] = /href="(\/local\/[^"]+)"/.exec(tag)!
  const { copies } = (await t.call('GET', `${site}/copies`)).body
  expect(copies).toMatchObject([{ path, addon: 'hollow', isMade: true, trouble: null }])
  // Other kinds go on getting the file.
  expect(await theme('/events/lantern-evening')).toContain(THEME)
  await sweep('/about')
  const rows = await db.query(`select url, payer, transfer_bytes bytes from file_toll where url like '%/local/%'`)
  expect(rows[0]).toMatchObject([{ payer: 'hollow' }])
  expect(await ended(t.call('POST', `${site}/rules/take-back/0`))).toMatchObject({ state: 'live' })
  // It is read before and after, which nobody here waits for.
  for (const { id, status } of (await t.call('GET', `${site}/sweeps`)).body)
    if (status === 'running') await t.call('POST', `/sweeps/${id}/cancel`)
  expect(await theme('/about')).toContain(THEME)
}, 300_000)

it('of a file that is another one by now is left alone by the site, which says so', async () => {
  const text = 'a{color:red}'
  const from = `sha384-${'B'.repeat(64)}`
  const lighterBy = { transferBytes: 1, decodedBytes: 1, idleBytes: 1 }
  const kept = await keepMadeCopy({ siteId, from, text, address: t.standin.address + THEME, file: THEME, addon: 'hollow', lighterBy, leftOut: 1 }) // prettier-ignore
  await t.call('POST', `${site}/drafts`, { rules: [rule({ content: kept.content, from })] })
  expect(await putLive()).toMatchObject({ state: 'live' })
  expect(await theme('/about')).toContain(THEME)
  const { copies } = (await t.call('GET', `${site}/copies`)).body
  expect(copies.find(({ trouble }: { trouble: string | null }) => trouble !== null)).toMatchObject({ isMade: true, trouble: expect.stringContaining('another one by now') }) // prettier-ignore
}, 300_000)
