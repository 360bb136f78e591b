import 'reflect-metadata'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser } from 'playwright-core'
import { HarReader, samplePages, type Reading, type RequestRecord, wentOut } from '@unvelt/core'
import { startStandin, type Standin } from '@unvelt/standin'
import { standinDatabase } from '../../testing/standin-database.js'
import { DEFAULT_LIMITS } from '../src/browser/limits.js'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'
import { ConnectorClient } from '../src/site-http/connector-client.js'

/**
 * Pages of the stand-in, read by three: Unvelt, the site's own access log, and Playwright's own recorder. All of them with
 * UNVELT_ALL_PAGES=1, which takes minutes; else one of each kind, another one each day.
 */
let browser: Browser
let standin: Standin
let database: Awaited<ReturnType<typeof standinDatabase>>
const folder = mkdtempSync(join(tmpdir(), 'unvelt-agreement-'))
const log = join(folder, 'log')

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  database = await standinDatabase()
  standin = await startStandin({ port: 0, databaseUrl: database.url, connectorKey: 'k', accessLogFile: log })
})
afterAll(async () => {
  await browser?.close()
  await standin?.stop()
  await database?.drop()
  rmSync(folder, { recursive: true, force: true })
})

const place = (url: string) => new URL(url).host + new URL(url).pathname
const line = (request: RequestRecord) => `${place(request.url)} ${request.transferBytes}`
/** What the browser asked for and then withheld from the page: its bytes came, and the recorder has none. */
const withheld = ({ failure, status }: RequestRecord) => failure !== undefined && status !== null
/** What goes on every few seconds, beside the load and after it, is in a list as far as whoever wrote it looked on. */
const goesOn = (url: string) => url.endsWith('/presence')
/** An answer that never ends has no last byte to agree on. */
const ended = ({ endedMs }: RequestRecord) => endedMs !== null

/** What is in one list and not in the other, each as often as it is too many. */
function without(list: string[], other: string[]): string[] {
  const left = [...other]
  return list.filter((each) => {
    const at = left.indexOf(each)
    if (at >= 0) left.splice(at, 1)
    return at < 0
  })
}

const logSize = () => (existsSync(log) ? readFileSync(log, 'utf8').length : 0)

async function readByThree(path: string) {
  const from = logSize()
  const har = join(folder, 'page.har')
  const url = standin.address + path
  const reading: Reading = await readPage(browser, {
    reach: 'anywhere',
    url,
    lens: DEFAULT_LENS.settings,
    recordHarTo: har,
    // The recorder makes a slow machine slower still, and no time is looked at here.
    limits: { ...DEFAULT_LIMITS, loadMs: 150_000, hardMs: 240_000 },
  })
  const logged = readFileSync(log, 'utf8')
    .slice(from)
    .split('\n')
    .filter((text) => text.includes('HeadlessChrome'))
    // The recorder fetches bodies again that the browser no longer has: such a request has no referrer, as only the page's own has.
    .filter((text) => !/" \d+ - "-" "/.test(text) || text.includes(`"GET ${path} `))
    .map((text) => {
      const [, path, host, wire] = /"[A-Z]+ (\S+) HTTP[^"]*" .* "([^"]+)" (\d+)$/.exec(text)!
      return { host: host!, path: path!.split('?')[0]!, wire: Number(wire) }
    })
  const reader = new HarReader()
  reader.push(readFileSync(har))
  return { reading, logged, recorded: reader.end().flatMap(({ requests }) => requests) }
}

it('agrees to the byte', async () => {
  const pages = await new ConnectorClient(standin.address, '/unvelt/v1', 'k', 'anywhere').pages()
  const open = pages.filter(({ area, signedIn }) => area === 'public' && !signedIn)
  expect(open.length).toBeGreaterThan(60)
  // The log tells of them only when they are broken off, which may be on the next page.
  const endless = new Set<string>()
  const differences: Record<string, unknown> = {}
  const today = Math.floor(Date.now() / 86_400_000)
  const known = open.map(({ kind, weight }, id) => ({ id, kind, views: weight ?? null }))
  const { ids } = samplePages(known, { mostVisited: 0, drawn: 1, seed: today })
  const read = process.env.UNVELT_ALL_PAGES ? open : open.filter((_, id) => ids.includes(id))
  for (const { path } of read) {
    const { reading, logged, recorded } = await readByThree(path)
    const own = reading.requests.filter((request) => wentOut(request) && !goesOn(request.url))
    for (const request of own) if (!ended(request)) endless.add(place(request.url))
    const told = logged.filter((entry) => !endless.has(entry.host + entry.path) && !goesOn(entry.path))
    const byLog = [own.filter(ended).map(line).sort(), told.map((e) => `${e.host}${e.path} ${e.wire}`).sort()]
    const byHar = [
      own
        .filter((r) => r.transferBytes > 0 && ended(r) && !withheld(r))
        .map(line)
        .sort(),
      recorded
        .filter((r) => r.transferBytes > 0 && !endless.has(place(r.url)) && !goesOn(r.url))
        .map(line)
        .sort(),
    ]
    for (const [name, [mine, theirs]] of Object.entries({ byLog, byHar }))
      if (JSON.stringify(mine) !== JSON.stringify(theirs))
        differences[`${path} ${name}`] = {
          only: without(mine!, theirs!),
          theirs: without(theirs!, mine!),
        }
  }
  expect(differences).toEqual({})
}, 600_000)
