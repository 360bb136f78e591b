import { startStandin, type Standin } from '@unvelt/standin'
import { standinDatabase } from '../../testing/standin-database.js'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { Browsers } from '../src/browser/browsers.js'
import { failureSentence } from '../src/reading/failure.js'
import { DEFAULT_LIMITS } from '../src/browser/limits.js'
import { readPage } from '../src/browser/read-page.js'

/** Whatever a site does, a reading ends, says why, and leaves the browser fit for the next one. */
/** A page may make its browser unfit; the next one has another then, as with a worker. */
const browsers = new Browsers(() => launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium'))
let standin: Standin
let database: Awaited<ReturnType<typeof standinDatabase>>
let origin: string
/** The same limits at a smaller scale, so that the test ends as well. */
const LIMITS = {
  ...DEFAULT_LIMITS,
  loadMs: 5_000,
  quietWaitMs: 2_000,
  requests: 2_000,
  transferBytes: 20e6,
  decodedBytes: 60e6,
  hardMs: 25_000,
  answerMs: 3_000,
}
/** For pages that do come: a machine that is busy takes its time. */
const PATIENT = { ...LIMITS, loadMs: 20_000, answerMs: 10_000 }
/** A worker may take 1.5 GB, of which it has not a tenth when it starts. */
const MOST_MEMORY_MORE = 1.35e9
let memoryBefore = 0

beforeAll(async () => {
  // The process has run other tests before, and what they left is none of a reading's.
  memoryBefore = process.memoryUsage().rss
  database = await standinDatabase()
  standin = await startStandin({ port: 0, databaseUrl: database.url, connectorKey: 'k' })
  origin = `http://trouble.localhost:${standin.port}`
})
afterAll(async () => {
  await browsers.close()
  await standin?.stop()
  await database?.drop()
})
afterEach(() => expect(process.memoryUsage().rss - memoryBefore).toBeLessThan(MOST_MEMORY_MORE))

const read = async (url: string, limits = LIMITS) =>
  readPage(await browsers.shared(), { reach: 'anywhere', url, lens: DEFAULT_LENS.settings, limits })
const alive = async () => expect((await read(`${origin}/blank`, PATIENT)).title).toBe('Trouble')

it.each([
  ['/endless', /did not finish loading in time\. It still waited for .*\/endless/],
  ['/loop', /redirects for ever/],
  ['/download', /download/],
  ['/spins-at-once', /did not finish loading in time/],
  ['/spins', /main thread answered nothing for 3 s/],
  ['/short', /ERR_CONTENT_LENGTH_MISMATCH|closed the connection|did not finish/],
  ['/nothing', /answered 404/],
])(
  '%s fails with its reason, and the next page is read',
  async (path, why) => {
    expect(await read(origin + path).then(() => 'it was read', failureSentence)).toMatch(why)
    await alive()
  },
  60_000,
)

it.each(['/half-a-gigabyte', '/half-a-gigabyte-of-script', '/large-page', '/bomb'])(
  '%s is read as far as it came within the limits, or fails with its reason',
  async (path) => {
    const outcome = await read(origin + path).then(
      ({ requests }) => requests.reduce((sum, r) => sum + r.transferBytes, 0),
      failureSentence,
    )
    if (typeof outcome === 'number') expect(outcome).toBeLessThan(200e6)
    else expect(outcome).toMatch(/did not finish loading|answered nothing|crashed/)
    await alive()
  },
  60_000,
)

/**
 * The rest of what `npm run hostile` sweeps in full: each ends, however it ends, and the next page is read. A fifth of them each
 * day, in turn.
 */
const REST = [
  '/tiny',
  '/empty',
  '/bytes',
  '/deep',
  '/attributes',
  '/style-storm',
  '/style-imports',
  '/long-address',
  '/timers',
  '/mutations',
  '/workers',
  '/worker-requests',
  '/service-worker',
  '/sockets',
  '/event-stream',
  '/unload',
  '/frame-of-itself',
  '/windows',
  '/print',
  '/downloads',
  '/other-scheme',
  '/history',
  '/title',
  '/prototypes',
  '/complaints',
  '/errors',
  '/drip',
  '/sign-in',
  '/headers',
  '/cookies',
  '/packed-wrongly',
  '/no-http',
  '/hangs-up',
  '/other-charset',
]
const TODAY = Math.floor(Date.now() / 86_400_000)
it.each(REST.filter((_, n) => process.env.UNVELT_ALL_PAGES === '1' || n % 5 === TODAY % 5))(
  '%s ends, with figures or with a sentence, and the next page is read',
  async (path) => {
    const outcome = await read(origin + path).then(({ requests, timings }) => {
      expect(requests.length).toBeGreaterThan(0)
      for (const ms of Object.values(timings)) expect(ms === null || (ms >= 0 && ms < 1e7)).toBe(true)
      return 'It was read.'
    }, failureSentence)
    expect(outcome).toMatch(/^[A-Z][^]*[.)]$/)
    expect(outcome).not.toMatch(/is not a function|undefined|TypeError|\bat \w+ \(/)
    await alive()
  },
  60_000,
)

it.each([
  ['/leads-away', /leads to an address that can’t be reached|is a port of this machine that is none of the site’s/],
  ['/stranger', /leads away from its site, to stranger\.localhost|went on to another address/],
])('%s leads elsewhere, so there is no reading', async (path, why) => {
  expect(await read(origin + path, PATIENT).then(() => 'it was read', failureSentence)).toMatch(why)
})

it('what a page asks for at closed addresses or at other ports of this machine is refused on its way', async () => {
  const { requests } = await read(`${origin}/closed-addresses`, PATIENT)
  const of = (address: string) => requests.filter(({ url }) => url.startsWith(address)).map(({ failure }) => failure)
  for (const own of ['http://127.0.0.1:5432/', 'http://[::1]:4600/', 'http://0.0.0.0:4600/'])
    expect(of(own)).toEqual(['out of reach: not a port of the site’s'])
  expect(of('http://169.254.169.254/')).toEqual(['out of reach: not a public address'])
})

it('a hundred thousand requests are cut off at the limit, or keep the page from loading, and it says so', async () => {
  const outcome = await read(`${origin}/many`).then((reading) => {
    expect(reading.requests.length).toBeLessThan(LIMITS.requests * 3)
    return reading.consoleErrors.join(' ')
  }, failureSentence)
  expect(outcome).toMatch(/cut off after \d+ requests|did not finish loading|answered nothing/)
  await alive()
})

it('dialogs and popups are shut, and the page is read', async () => {
  expect((await read(`${origin}/dialogs`, PATIENT)).title).toBe('Trouble')
  expect((await read(`${origin}/popups`, PATIENT)).title).toBe('Trouble')
  await alive()
})

it('a page that goes on to another address is read there, or says so', async () => {
  const outcome = await read(`${origin}/leaves`, PATIENT).then(({ finalUrl }) => finalUrl, failureSentence)
  expect(outcome).toMatch(/\/blank$|went on to another address/)
})

it('bytes of another charset than said are read', async () => {
  expect((await read(`${origin}/latin`, PATIENT)).requests).toHaveLength(1)
})

it('an address that speaks no TLS fails with its reason', async () => {
  expect(
    await read(`https://trouble.localhost:${standin.port}/blank`).then(() => 'it was read', failureSentence),
  ).toMatch(/ERR_SSL|certificate/)
})
