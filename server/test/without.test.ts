import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { connect } from '../src/database/connect.js'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { wasBlocked } from '../src/browser/blocked.js'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'
import { Browsers } from '../src/browser/browsers.js'
import { asKind, OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { storeReading, storeTolls } from '../src/reading/reading-store.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** The stand-in's contact page with and without what comes from elsewhere. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let browser: Browser
let site: { id: number }
let page: { id: number; path: string }
let path: string
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  site = (await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })).body
  page = (await t.call('GET', `/sites/${site.id}/pages`)).body.find((p: { path: string }) => p.path === '/contact')
  path = `/sites/${site.id}/pages/${page.id}/without`
})
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
})

const read = (blocked?: { hosts: string[] } | { allBut: string[] }) =>
  readPage(browser, {
    reach: 'anywhere',
    url: t.standin.address + page.path,
    lens: DEFAULT_LENS.settings,
    ...(blocked && { blocked }),
  })
const hostsOf = (requests: { url: string }[]) => [...new Set(requests.map(({ url }) => new URL(url).host))]

it('refuses some hosts, or all but the site’s own, and nothing else', async () => {
  const { port } = new URL(t.standin.address)
  const chat = `hallodesk.localhost:${port}`
  const one = await read({ hosts: [chat] })
  expect(hostsOf(one.requests.filter(wasBlocked))).toEqual([chat])
  expect(one.requests.filter(wasBlocked).every(({ transferBytes }) => transferBytes === 0)).toBe(true)
  const own = [`fernhollow.localhost:${port}`, `files.fernhollow.localhost:${port}`]
  const none = await read({ allBut: own })
  expect(hostsOf(none.requests.filter((request) => !wasBlocked(request))).sort()).toEqual(own.sort())
  expect(hostsOf(none.requests.filter(wasBlocked))).toContain(`tagbasket.localhost:${port}`)
})

it('asks for a sweep first, since only that tells whose hosts there are', async () => {
  expect((await t.call('POST', path, {})).status).toBe(422)
})

it('reads with and without in turn, and goes on where it was broken off', async () => {
  const { body: sweep } = await t.call('POST', `/sites/${site.id}/sweeps`, { repeats: 1 })
  const { sources } = (await SweepRow.findByPk(sweep.id))!
  const place = { sweepId: sweep.id, pageId: page.id, variant: 'live' }
  await storeReading({ ...place, repeat: 1 }, await read(), sources)
  await storeTolls(db, site.id, place, sources)
  expect((await t.call('POST', path, {})).status).toBe(409)
  await SweepRow.update({ status: 'done' }, { where: { id: sweep.id } })
  expect((await t.call('POST', path, { payers: ['enquiry-form'] })).status).toBe(422)

  const started = await t.call('POST', path, { payers: ['tagbasket'], repeats: 3 })
  expect(started.body.taken[0]).toMatchObject({
    underWay: 6,
    hosts: expect.arrayContaining([expect.stringMatching(/^adlattice/)]),
  })
  expect((await t.call('POST', path, {})).status).toBe(409)
  let readings = 0
  const shared = () => (++readings === 3 ? Promise.reject(new Error('gone')) : Promise.resolve(browser))
  const browsers = Object.assign(new Browsers(shared), { shared })
  const tools = workerTools(db, { browsers, stopping: () => readings === 3 })
  const { id } = started.body.taken[0]
  await expect(runReadOnDemand(tools, { id }, aHold)).rejects.toThrow('gone')
  expect((await t.call('GET', path)).body.taken[0].underWay).toBe(4)
  await runReadOnDemand(tools, { id }, aHold)
  // One that was taken away, and one a reading.
  expect(readings).toBe(7)
  const [taken] = (await t.call('GET', path)).body.taken
  expect(taken).toMatchObject({
    underWay: 0,
    failure: null,
    figures: { requests: { word: 'better', low: -9, high: -9 } },
  })
  expect(taken.figures.loadMs.beforeReadings).toHaveLength(3)
  expect(asKind(await OnDemandRow.findByPk(id), 'without')!.taken.without).toHaveLength(3)
})
