import 'reflect-metadata'
import { createServer, request as httpRequest, type IncomingHttpHeaders, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import { startStandin, type Standin } from '@unvelt/standin'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { PreviewService } from '../src/preview/preview.service.js'
import { SiteRow } from '../src/site/site.model.js'
import { findAccessBy } from '../src/site-http/site-access.js'
import { accessBook } from '../src/site-http/access-book.js'
import { runPageJob } from '../src/worker/page-job.js'
import { connect } from '../src/database/connect.js'
import { standinDatabase } from '../../testing/standin-database.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** A copy that is closed to the public (HTTP Basic, a header of its own) is looked at as any site, and tells nobody of the keys. */
const SECRET = Buffer.from('5a'.repeat(32), 'hex')
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let browser: Browser
let copy: Standin
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  await t.app.get(PreviewService).listen()
  const theirs = await standinDatabase()
  copy = await startStandin({ port: 0, databaseUrl: theirs.url, connectorKey: KEY, closedTo: 'ilse:owl: tree ü' })
})
afterAll(async () => {
  await browser?.close()
  await copy?.stop()
  await db?.close()
  await t?.stop()
})

const access = { user: 'ilse', password: 'owl: tree ü' }
const register = (more: object) =>
  t.call('POST', '/sites', { address: copy.address, connectorKey: KEY, local: true, ...more })

it('is registered with a name and a password, read with them, and shown in the preview', async () => {
  for (const wrong of [
    {},
    { access: { user: 'ilse', password: 'no' } },
    { access, withoutConnector: true, local: false },
  ])
    expect((await register(wrong)).status).toBe(422)
  const unknown = await register({})
  expect(unknown.body.errors).toEqual([{ field: 'access', message: expect.stringContaining('closed to the public') }])
  const from = await register({ withoutConnector: true })
  expect(from.body.errors).toEqual([{ field: 'access', message: expect.stringContaining('closed to the public') }])

  const { status, body: site } = await register({ access })
  expect([status, site.access]).toEqual([201, { user: 'ilse', headers: [] }])
  const whole = JSON.stringify((await t.call('GET', '/sites')).body)
  expect(whole).not.toContain('owl')
  const row = (await SiteRow.findByPk(site.id))!
  expect(row.access).not.toContain('owl')

  const { body: pages } = await t.call('GET', `/sites/${site.id}/pages`)
  const page = pages.find(({ path }: { path: string }) => path === '/opening-hours').id
  const { body: sweep } = await t.call('POST', `/sites/${site.id}/sweeps`, { pageIds: [page], repeats: 1 })
  await runPageJob(workerTools(db, { browser }), { sweepId: sweep.id, pageId: page }, aHold)
  const { body: read } = await t.call('GET', `/sweeps/${sweep.id}`)
  expect(read).toMatchObject({ readings: 1, readingsFailed: 0, failures: [] })
  const { body: ledger } = await t.call('GET', `/sites/${site.id}/ledger?sweep=${sweep.id}`)
  // The connector's key got through beside the password, so what the site tells of itself is known.
  expect(ledger.payers.map(({ slug }: { slug: string }) => slug)).toContain('ribbon-share')

  const preview = (await t.call('POST', `/sites/${site.id}/previews`, {}, { origin: await t.app.getUrl() })).body
  expect(await statusThrough(preview.address, '/opening-hours')).toBe(200)
}, 300_000)

it('what is kept stays where only something else is entered, and nothing is kept that does not open it', async () => {
  const [{ id }] = (await t.call('GET', '/sites')).body
  const change = (wish: object | null) => t.call('PATCH', `/sites/${id}`, { access: wish })
  const header = { name: 'X-Let-In', value: 'yes' }
  expect((await change({ user: 'ilse', headers: [header] })).body.access).toEqual({
    user: 'ilse',
    headers: ['X-Let-In'],
  })
  expect((await change({ user: 'ilse', headers: [{ name: 'x-let-in' }] })).status).toBe(200)
  expect((await change({ user: 'ilse', headers: [{ name: 'X-Other' }] })).body.errors[0].field).toBe(
    'access/headers/0/value',
  )
  expect((await change({ user: 'somebody' })).body.errors[0].field).toBe('access')
  expect((await change(null)).status).toBe(422)
  for (const name of ['Host', 'unvelt-measure', 'a b', 'content-length'])
    expect((await change({ ...access, headers: [{ name, value: 'x' }] })).status).toBe(422)
  expect((await change({ ...access, headers: [{ name: 'x', value: 'a\r\nb' }] })).status).toBe(422)
  expect((await t.call('POST', `/sites/${id}/refresh`)).status).toBe(200)
})

it('a copy that refuses whoever lacks its header is closed, too', async () => {
  const gated = createServer(({ headers }, response) => {
    if (headers['x-let-in'] !== 'yes') return response.writeHead(403).end()
    response.writeHead(200, { 'content-type': 'text/html' }).end('<title>Copy</title><h1>Copy</h1>')
  })
  await new Promise<void>((resolve) => gated.listen(0, '127.0.0.1', resolve))
  const address = `http://gated.localhost:${(gated.address() as AddressInfo).port}`
  const asked = (more: object) => t.call('POST', '/sites', { address, withoutConnector: true, local: true, ...more })
  expect((await asked({})).body.errors).toEqual([{ field: 'access', message: expect.stringContaining('403') }])
  const { status, body } = await asked({ access: { headers: [{ name: 'X-Let-In', value: 'yes' }] } })
  expect([status, body.access, body.pages]).toEqual([201, { user: null, headers: ['X-Let-In'] }, 1])
  gated.closeAllConnections()
  gated.close()
})

describe('whoever the pages ask', () => {
  let server: Server
  const heard: { host: string; path: string; headers: IncomingHttpHeaders }[] = []
  let port: number
  beforeAll(async () => {
    server = createServer((request, response) => {
      const host = request.headers.host!.split(':')[0]!
      heard.push({ host, path: request.url!, headers: request.headers })
      const far = `http://far.localhost:${port}`
      if (request.url === '/moved.js') return response.writeHead(302, { location: `${far}/moved-here.js` }).end()
      if (request.url === '/')
        return response.setHeader('content-type', 'text/html')
          .end(`<script src="/moved.js"></script><script src="/own.js"></script><script src="${far}/far.js"></script>
            <img src="http://files.localhost:${port}/own.png"><script>fetch('/asked', { headers: { authorization: 'Own 1' } }); new Worker('/worker.js')</script>
            <iframe src="/framed"></iframe>`)
      if (request.url === '/framed')
        return response.setHeader('content-type', 'text/html').end('<img src="/in-frame.png">')
      response
        .setHeader('content-type', 'text/javascript')
        .end(request.url === '/worker.js' ? `fetch('/by-worker'); fetch('${far}/by-worker', { mode: 'no-cors' })` : '')
    })
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    port = (server.address() as AddressInfo).port
    const own = new Set([`home.localhost:${port}`, `files.localhost:${port}`])
    findAccessBy((host) =>
      Promise.resolve(
        own.has(host) ? { authorization: 'Basic c2VjcmV0', 'x-let-in': 'secret' } : ({} as Record<string, string>),
      ),
    )
  })
  afterAll(() => {
    findAccessBy(accessBook(SECRET))
    server?.closeAllConnections()
    server?.close()
  })

  it('gets the secrets if it is the site itself, by whatever way, and nobody else does', async () => {
    await readPage(browser, {
      url: `http://home.localhost:${port}/`,
      lens: DEFAULT_LENS.settings,
      reach: 'anywhere',
      ownHosts: [`home.localhost:${port}`, `files.localhost:${port}`],
    } as Parameters<typeof readPage>[1])
    const asked = heard.length
    // Passed through the rewriter, as it is tried where a site keeps no drafts, it is let in all the same.
    const rewritten = await readPage(browser, {
      url: `http://home.localhost:${port}/`,
      lens: DEFAULT_LENS.settings,
      reach: 'anywhere',
      ownHosts: [`home.localhost:${port}`],
      rewrite: () => null,
    } as Parameters<typeof readPage>[1])
    expect(rewritten.requests.find(({ type }) => type === 'document')).toMatchObject({ status: 200 })
    heard.length = asked
    const of = (host: string) => heard.filter((one) => one.host === `${host}.localhost`)
    expect(
      of('far')
        .map(({ path }) => path)
        .sort(),
    ).toEqual(['/by-worker', '/far.js', '/moved-here.js'])
    for (const { headers } of of('far')) {
      expect(headers).not.toHaveProperty('authorization')
      expect(headers).not.toHaveProperty('x-let-in')
    }
    const own = [...of('home'), ...of('files')].filter(({ path }) => path !== '/favicon.ico')
    expect(own.map(({ path }) => path).sort()).toEqual([
      ...['/', '/asked', '/by-worker', '/framed', '/in-frame.png', '/moved.js', '/own.js', '/own.png', '/worker.js'],
    ])
    for (const { path, headers } of own)
      expect([path, headers['x-let-in'], headers.authorization]).toEqual([
        path,
        'secret',
        // What the page says of itself is the page's business.
        path === '/asked' ? 'Own 1' : 'Basic c2VjcmV0',
      ])
  })
})

function statusThrough(origin: string, path: string): Promise<number> {
  const { host, port } = new URL(origin)
  return new Promise((resolve, reject) => {
    httpRequest({ host: '127.0.0.1', port, path, headers: { host, accept: 'text/html' } }, (answer) => {
      answer.resume()
      resolve(answer.statusCode!)
    })
      .on('error', reject)
      .end()
  })
}
