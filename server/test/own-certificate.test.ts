import 'reflect-metadata'
import { request as httpRequest } from 'node:http'
import type { Browser } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { safeFront, type SafeFront } from '../../testing/safe-front.js'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'
import { connect } from '../src/database/connect.js'
import { FIRST_LENSES } from '../src/lens/lens-settings.js'
import { PreviewService } from '../src/preview/preview.service.js'
import { SiteRow } from '../src/site/site.model.js'
import { runPageJob } from '../src/worker/page-job.js'
import { appForTest } from './app-for-test.js'
import { aHold, workerTools } from './worker-tools.js'

/** A copy as copies are: a certificate of its own making, a name that no DNS knows, a password; TLS, HTTP/2 and Brotli. */
const HOST = 'mill-copy.unvelt.test'
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let browser: Browser
let plain: PlainSite
let front: SafeFront
let address: string
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  await t.app.get(PreviewService).listen()
  plain = await plainSite({ closedTo: 'ilse:owl' })
  front = await safeFront(plain.address, HOST)
  address = `https://${HOST}:${front.port}`
})
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
  await front?.stop()
  await plain?.stop()
})

const hosts = [{ host: HOST, address: '127.0.0.1' }]
const access = { user: 'ilse', password: 'owl' }
const register = (more: object) =>
  t.call('POST', '/sites', { address, local: true, withoutConnector: true, access, ...more })
const shown = async () => (await t.call('POST', '/certificates', { address, local: true, hosts })).body

it('is registered once its name is mapped and its certificate was looked at, and read like any site', async () => {
  expect((await register({})).body.errors).toEqual([
    { field: 'address', message: `The name ${HOST} does not resolve to any address.` },
  ])
  expect((await register({ hosts })).body.errors[0]).toMatchObject({ field: 'certificate' })
  expect((await register({ hosts, local: false })).body.errors[0].field).toBe('local')
  const told = await shown()
  expect(told).toMatchObject({ subject: HOST, names: [HOST], why: 'Nobody but itself vouches for it.' })
  const other = `${told.fingerprint.slice(0, -2)}${told.fingerprint.endsWith('00') ? '11' : '00'}`
  expect((await register({ hosts, certificate: other })).body.errors[0]).toMatchObject({
    field: 'certificate',
    message: expect.stringContaining(told.fingerprint),
  })
  expect(await SiteRow.count()).toBe(0)

  const { status, body: site } = await register({ hosts, certificate: told.fingerprint })
  expect([status, site.certificate?.fingerprint, site.hosts]).toEqual([201, told.fingerprint, hosts])
  const { body: pages } = await t.call('GET', `/sites/${site.id}/pages`)
  const page = pages.find(({ path }: { path: string }) => path === '/about').id
  front.sent.length = 0
  const { body: sweep } = await t.call('POST', `/sites/${site.id}/sweeps`, { pageIds: [page], repeats: 1 })
  await runPageJob(workerTools(db, { browser }), { sweepId: sweep.id, pageId: page }, aHold)
  const { body: taken } = await t.call('GET', `/sweeps/${sweep.id}`)
  expect(taken).toMatchObject({ readings: 1, readingsFailed: 0, failures: [] })
  const { body: sheet } = await t.call('GET', `/sites/${site.id}/pages/${page}?sweep=${sweep.id}`)
  const own = sheet.requests.filter(({ url }: { url: string }) => url.startsWith(address))
  expect(own.length).toBeGreaterThan(4)
  expect(own.filter(({ status }: { status: number }) => status === 200).length).toBeGreaterThan(3)
  // What the site itself has sent is what was read, but for the frames and headers around it.
  for (const { url, transferBytes } of own) {
    const { bytes } = front.sent.find(({ path, version }) => path === new URL(url).pathname && version === '2.0')!
    expect(transferBytes).toBeGreaterThan(bytes)
    expect(transferBytes - bytes).toBeLessThan(700)
  }
  const preview = (await t.call('POST', `/sites/${site.id}/previews`, {}, { origin: await t.app.getUrl() })).body
  expect(await statusThrough(preview.address, '/about')).toBe(200)
}, 300_000)

it('keeps what it has fetched, so that a second view is one', async () => {
  const lens = FIRST_LENSES.find(({ name }) => /second view/.test(name))!.settings
  const order = {
    url: `${address}/about`,
    ownHosts: [new URL(address).host],
    reach: 'anywhere' as const,
    untimed: true,
  }
  const { requests } = await readPage(browser, { ...order, lens })
  expect(requests.filter(({ fromCache }) => fromCache).map(({ url }) => new URL(url).pathname)).toContain(
    '/made/all.js',
  )
}, 300_000)

it('nobody else’s page gets at it by the same certificate', async () => {
  const stranger = await plainSite()
  const at = `https://same.localhost:${front.port}/parts/heron-gallery/js/gallery.js`
  stranger.gate = (html) => html.replace('<h1>', `<script src="${at}"></script><h1>`)
  try {
    const { requests } = await readPage(browser, {
      url: `${stranger.address}/about`,
      ownHosts: [new URL(stranger.address).host, `same.localhost:${front.port}`],
      lens: FIRST_LENSES[0]!.settings,
      reach: 'anywhere',
      untimed: true,
    })
    expect(requests.find(({ url }) => url === at)?.failure).toMatch(/ERR_CERT/)
  } finally {
    await stranger.stop()
  }
}, 300_000)

it('a name is mapped for one place only, and a copy is one of a site that is none', async () => {
  const [{ id }] = (await t.call('GET', '/sites')).body
  const change = (wish: object) => t.call('PATCH', `/sites/${id}`, wish)
  expect((await change({ hosts: [...hosts, ...hosts] })).body.errors[0]).toMatchObject({ field: 'hosts' })
  expect((await change({ hosts: [{ host: 'a.b', address: 'x' }] })).status).toBe(422)
  expect((await change({ copyOf: id })).body.errors[0].field).toBe('copyOf')
  const stranger = await plainSite()
  const live = await t.call('POST', '/sites', { address: stranger.address, local: true, withoutConnector: true })
  const taken = await t.call('PATCH', `/sites/${live.body.id}`, { hosts: [{ host: HOST, address: '127.0.0.2' }] })
  expect(taken.body.errors[0]).toMatchObject({ field: 'hosts', message: expect.stringContaining('127.0.0.1') })
  expect((await change({ copyOf: live.body.id })).body.copyOf).toBe(live.body.id)
  expect((await t.call('PATCH', `/sites/${live.body.id}`, { copyOf: id })).body.errors[0].field).toBe('copyOf')
  await stranger.stop()
}, 300_000)

it('a certificate that has become another one fails the readings until somebody has looked at it', async () => {
  const [site] = (await t.call('GET', '/sites')).body.filter((each: { address: string }) => each.address === address)
  const { body: pages } = await t.call('GET', `/sites/${site.id}/pages`)
  await front.renew()
  const { body: sweep } = await t.call('POST', `/sites/${site.id}/sweeps`, { pageIds: [pages[0].id], repeats: 1 })
  await runPageJob(workerTools(db, { browser }), { sweepId: sweep.id, pageId: pages[0].id }, aHold)
  const { body: read } = await t.call('GET', `/sweeps/${sweep.id}`)
  expect(read.failures[0].reason).toContain('shows another certificate than the one that was accepted')
  const preview = (await t.call('POST', `/sites/${site.id}/previews`, {}, { origin: await t.app.getUrl() })).body
  expect(await statusThrough(preview.address, '/about')).toBe(502)
  const now = await shown()
  expect(now.fingerprint).not.toBe(site.certificate.fingerprint)
  expect((await t.call('PATCH', `/sites/${site.id}`, { certificate: site.certificate.fingerprint })).status).toBe(422)
  const kept = await t.call('PATCH', `/sites/${site.id}`, { certificate: now.fingerprint })
  expect(kept).toMatchObject({ status: 200 })
  expect(kept.body.certificate.fingerprint).toBe(now.fingerprint)
}, 300_000)

const statusThrough = (preview: string, path: string): Promise<number> => {
  const { host, port } = new URL(preview)
  return new Promise((resolve, reject) => {
    const request = httpRequest({ port, path, headers: { host, 'sec-fetch-dest': 'document' } }, (answer) => {
      answer.resume()
      resolve(answer.statusCode!)
    })
    request.once('error', reject)
    request.end()
  })
}
