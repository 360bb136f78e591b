import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { gzipSync } from 'node:zlib'
import type { Browser } from 'playwright-core'
import { attribute, NO_SOURCES, stepsFor, tolls, type RequestRecord } from '@unvelt/core'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'

// An answer that nobody reads never ends, so each is read.
/** Workers that ask for files of their own, one of them of another worker, one through a redirect, one late. */
let server: Server
let browser: Browser
let origin: string
const sent = new Map<string, number>()

const CODE: Record<string, string> = {
  '/service-page.js': `navigator.serviceWorker.register('/parts/offline/service.js')
document.querySelector('[aria-expanded]').onclick = () => new Worker('/parts/counter/on-press.js')`,
  '/parts/offline/service.js': `importScripts('/parts/offline/store.js')
addEventListener('install', (event) => event.waitUntil(caches.open('kept').then((kept) => kept.addAll(['/kept/one', '/kept/two']))))`,
  '/parts/offline/store.js': 'self.store = 1',
  '/parts/counter/on-press.js': `fetch('/data/pressed').then((r) => r.text())`,
  '/page.js': `new Worker('/parts/counter/worker.js')`,
  '/parts/counter/worker.js': `importScripts('/parts/counter/lib.js'); fetch('/data/trees').then((r) => r.text()).then(() => new Worker('/parts/counter/second.js')); setTimeout(() => fetch('/old').then((r) => r.text()), 300)`,
  '/parts/counter/lib.js': `self.lib = ${JSON.stringify('x'.repeat(5_000))}`,
  '/parts/counter/second.js': `fetch('http://stranger.localhost:' + location.port + '/beacon', { mode: 'no-cors' }).then((r) => r.text()); fetch('/page.js').then((r) => r.text())`,
}

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  server = createServer((request, response) => {
    const path = request.url!
    sent.set(path, (sent.get(path) ?? 0) + 1)
    if (path === '/favicon.ico') return response.writeHead(204).end()
    if (path === '/old') return response.writeHead(302, { location: '/data/late' }).end()
    response.setHeader('content-type', 'text/html')
    if (path === '/') return response.end('<script src="/page.js"></script>')
    if (path === '/service')
      return response.end(
        '<header><button aria-expanded="false">Menu</button></header><script src="/service-page.js"></script>',
      )
    response.setHeader('content-type', CODE[path] ? 'text/javascript' : 'application/json')
    const body = CODE[path] ?? JSON.stringify('y'.repeat(20_000))
    response.setHeader('content-encoding', 'gzip').end(gzipSync(body))
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  origin = `http://worker.localhost:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  await browser?.close()
  server?.closeAllConnections()
  await new Promise((resolve) => server?.close(resolve))
})

it('are requests of the page, each counted once, with their bytes', async () => {
  sent.clear()
  const reading = await readPage(browser, { reach: 'anywhere', url: `${origin}/`, lens: DEFAULT_LENS.settings })
  const counted = new Map<string, number>()
  for (const { url } of reading.requests) {
    const path = new URL(url).pathname
    counted.set(path, (counted.get(path) ?? 0) + 1)
  }
  expect(Object.fromEntries([...counted].sort())).toEqual(Object.fromEntries([...sent].sort()))
  const of = (path: string) => reading.requests.filter(({ url }) => new URL(url).pathname === path)
  const lib = of('/parts/counter/lib.js')[0]!
  expect(lib.decodedBytes).toBe(CODE['/parts/counter/lib.js']!.length)
  expect(lib.transferBytes).toBeGreaterThan(gzipSync(CODE['/parts/counter/lib.js']!).length)
  expect(lib.transferBytes).toBeLessThan(600)
  // Asked for once by the page and once by the worker's worker.
  expect(of('/page.js')).toHaveLength(2)
  const late = of('/data/late')[0]!
  expect(late).toMatchObject({ initiator: { type: 'redirect' }, redirectedFrom: of('/old')[0]!.id })
  expect(late.startedMs).toBeGreaterThan(200)
  expect(reading.timings.quiet!).toBeGreaterThanOrEqual(late.startedMs)
})

it('are charged to whoever pays for the worker', async () => {
  const reading = await readPage(browser, { reach: 'anywhere', url: `${origin}/`, lens: DEFAULT_LENS.settings })
  const sources = {
    ...NO_SOURCES,
    ownHosts: [new URL(origin).host],
    prefixes: [{ prefix: '/parts/counter/', addon: 'counter' }],
  }
  const charged = tolls(reading, attribute(reading, sources))
  const counter = charged.find(({ payer }) => payer === 'counter')!
  // Both workers, the library, the data, the redirect and what it led to, and the second request for page.js.
  expect(counter.requests).toBe(7)
})

it('are those of a service worker, too, and what a worker asks for in a step is the step’s', async () => {
  sent.clear()
  const reading = await readPage(browser, {
    reach: 'anywhere',
    url: `${origin}/service`,
    lens: DEFAULT_LENS.settings,
    steps: stepsFor('page'),
  })
  const pathsOf = (requests: RequestRecord[]) => requests.map(({ url }) => new URL(url).pathname).sort()
  const menu = reading.steps.find(({ name }) => name === 'open the menu')!
  expect(pathsOf(menu.requests)).toEqual(['/data/pressed', '/parts/counter/on-press.js'])
  expect(reading.companions).toContainEqual({ kind: 'service worker', url: `${origin}/parts/offline/service.js` })
  const all = pathsOf([...reading.requests, ...reading.steps.flatMap(({ requests }) => requests)])
  expect(all).toEqual([...sent].flatMap(([path, times]) => Array<string>(times).fill(path)).sort())
  const kept = reading.requests.filter(({ url }) => new URL(url).pathname.startsWith('/kept/'))
  expect(kept).toHaveLength(2)
  for (const { decodedBytes, transferBytes } of kept) {
    expect(decodedBytes).toBe(JSON.stringify('y'.repeat(20_000)).length)
    expect(transferBytes).toBeGreaterThan(100)
  }
  const sources = {
    ...NO_SOURCES,
    ownHosts: [new URL(origin).host],
    prefixes: [{ prefix: '/parts/offline/', addon: 'offline' }],
  }
  const { requests } = attribute(reading, sources)
  expect(kept.map(({ id }) => requests.get(id)!.payer)).toEqual(['offline', 'offline'])
})
