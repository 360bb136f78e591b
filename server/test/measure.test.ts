import { createServer, type Server } from 'node:http'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser } from 'playwright-core'
import { startStandin, type Standin } from '@unvelt/standin'
import { standinDatabase } from '../../testing/standin-database.js'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { failureSentence } from '../src/reading/failure.js'
import { DEFAULT_LIMITS } from '../src/browser/limits.js'
import { measuringHeader } from '../src/site-http/measuring-header.js'
import { readPage } from '../src/browser/read-page.js'

let browser: Browser
let standin: Standin
let folder: string
let database: Awaited<ReturnType<typeof standinDatabase>>
let odd: Server
let oddUrl: string

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  database = await standinDatabase()
  folder = mkdtempSync(join(tmpdir(), 'unvelt-measure-'))
  standin = await startStandin({
    port: 0,
    databaseUrl: database.url,
    connectorKey: 'k',
    accessLogFile: join(folder, 'log'),
  })
  odd = createServer((request, response) => {
    if (request.url === '/broken') return response.writeHead(500).end('no')
    if (request.url === '/loop') return response.writeHead(302, { location: '/loop' }).end()
    if (request.url === '/hang.png') return void response.writeHead(200, { 'content-type': 'image/png' }).flushHeaders()
    if (request.url === '/hidden.js')
      return response.writeHead(404, { 'content-type': 'application/json' }).end('{"a":1}')
    if (request.url === '/favicon.ico') return response.writeHead(204).end()
    response.setHeader('content-type', 'text/html')
    if (request.url === '/dialogs') return response.end('<script>alert(1);confirm(2)</script><p>done')
    if (request.url === '/never-quiet')
      return response.end('<p>x<script>onload=()=>{new Image().src="/hang.png"}</script>')
    if (request.url === '/hidden')
      return response.end(`<script src="http://other.localhost:${oddPort()}/hidden.js"></script>`)
    if (request.url === '/many') return response.end('<script>for(let i=0;i<400;i++)fetch("/x?"+i)</script>')
    response.end('<p>ok')
  })
  const oddPort = () => (odd.address() as AddressInfo).port
  await new Promise<void>((resolve) => odd.listen(0, '127.0.0.1', resolve))
  oddUrl = `http://odd.localhost:${oddPort()}`
})

afterAll(async () => {
  await browser?.close()
  odd?.closeAllConnections()
  await new Promise((resolve) => odd?.close(resolve))
  await standin?.stop()
  await database?.drop()
  rmSync(folder, { recursive: true, force: true })
})

const read = (url: string, extra = {}) =>
  readPage(browser, { reach: 'anywhere', url, lens: DEFAULT_LENS.settings, ...extra })
const reason = (url: string, limits = {}) =>
  read(url, { limits: { ...DEFAULT_LIMITS, ...limits } }).then(() => 'read', failureSentence)

describe('a reading', () => {
  it('agrees with the site’s own access log in every request and byte', async () => {
    const url = new URL('/', standin.address)
    const header = measuringHeader(url, 'k', { rules: 'live', cache: 'bypass' }, Date.now() / 1000)
    const limits = { ...DEFAULT_LIMITS, loadMs: 20_000 }
    const reading = await read(url.href, { measuringHeader: header, limits })
    // The site itself asks an outsider too, while it makes the page; only what the browser asked for counts here.
    const lines = (await wholeLog()).split('\n').filter((line) => line.includes('HeadlessChrome'))
    const logged = lines.map(logLine).sort()
    const seen = reading.requests
      .map(({ url, transferBytes }) => `${new URL(url).host}${new URL(url).pathname} ${transferBytes}`)
      .sort()
    expect(seen).toEqual(logged)
    expect(seen.length).toBeGreaterThan(25)
    expect(reading.serverTiming.map((entry) => entry.name)).toEqual(
      expect.arrayContaining(['total', 'cms', 'addon.seek-helper']),
    )
    expect(reading.rulesVersion).toBe('0')
    expect(reading.timings.quiet).toBeGreaterThanOrEqual(reading.timings.load!)
    expect(reading.timings.ttfb).toBeLessThan(reading.timings.load!)
    expect(reading.inlineCode.map((code) => code.elementId)).toContain('season-greeting')
  })

  it('sends the measuring header with the page itself and with nothing else', async () => {
    const seen: string[] = []
    const spy = createServer((request, response) => {
      if (request.headers['unvelt-measure']) seen.push(request.url!)
      response.setHeader('content-type', 'text/html')
      response.end(request.url === '/?a=*' ? '<script src="/x.js"></script><iframe src="/?a=*2"></iframe>' : '')
    })
    await new Promise<void>((resolve) => spy.listen(0, '127.0.0.1', resolve))
    await read(`http://spy.localhost:${(spy.address() as AddressInfo).port}/?a=*`, { measuringHeader: 'x' })
    spy.closeAllConnections()
    spy.close()
    expect(seen).toEqual(['/?a=*'])
  })

  it('counts a withheld answer with the bytes that came', async () => {
    const { requests } = await read(`${oddUrl}/hidden`)
    const hidden = requests.find((request) => request.url.endsWith('/hidden.js'))!
    expect(hidden.transferBytes).toBeGreaterThan(50)
  })

  it('goes through dialogs, and ends although the page never falls quiet', async () => {
    expect((await read(`${oddUrl}/dialogs`)).requests.map((r) => r.url)).toContain(`${oddUrl}/dialogs`)
    const noisy = await read(`${oddUrl}/never-quiet`, { limits: { ...DEFAULT_LIMITS, quietWaitMs: 700 } })
    expect(noisy.timings.quiet).toBeNull()
    expect(noisy.requests.map((r) => new URL(r.url).pathname)).toContain('/hang.png')
  })

  it('is cut off, and says so, when the page asks for too much', async () => {
    const cut = await read(`${oddUrl}/many`, { limits: { ...DEFAULT_LIMITS, requests: 100 } })
    expect(cut.consoleErrors.at(-1)).toContain('cut off')
  })
})

describe('a failed reading', () => {
  it.each([
    ['/broken', 'The page answered 500.'],
    ['/loop', 'The page redirects for ever.'],
  ])('of %s says %s', async (path, sentence) => expect(await reason(oddUrl + path)).toBe(sentence))

  it('says that nobody answers', async () =>
    expect(await reason('http://127.0.0.1:9/')).toMatch(/refused|ERR_UNSAFE_PORT/))

  it('says that it took too long', async () =>
    expect(await reason(`${oddUrl}/hang.png`, { loadMs: 400 })).toBe(
      `The page did not finish loading in time. It still waited for ${oddUrl}/hang.png.`,
    ))
})

/** Once its last line has been written to its end. */
async function wholeLog(): Promise<string> {
  for (;;) {
    const text = readFileSync(join(folder, 'log'), 'utf8')
    if (text.endsWith('\n')) return text
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
}

function logLine(line: string): string {
  const [, path, host, wire] = /"[A-Z]+ (\S+) HTTP[^"]*" .* "([^"]+)" (\d+)$/.exec(line)!
  return `${host}${path!.split('?')[0]} ${wire}`
}
