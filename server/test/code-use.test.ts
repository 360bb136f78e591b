import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import {
  attribute,
  covered,
  inlineNeededLater,
  inlineTexts,
  NO_SOURCES,
  stepsFor,
  tolls,
  type Reading,
} from '@unvelt/core'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { failureSentence } from '../src/reading/failure.js'
import { DEFAULT_LIMITS } from '../src/browser/limits.js'
import { sharedSession } from '../src/browser/page-session.js'
import { readPage } from '../src/browser/read-page.js'

/** What of a page's code is used, and whose time it takes, on a page that is known to the byte. */
const SCRIPT = `function ran(){ return 1 }
function idle(){ return 'never run, ä ö ü' }
ran();
`
const STYLE = `p{color:red}
.nobody{color:blue}
p:hover{color:green}
@media print{p{color:black}}
@font-face{font-family:Nobody;src:url(/nobody.woff2)}
.é{color:grey}
`
const BUSY = `var until = performance.now() + 120; while (performance.now() < until);`
const WRITTEN = `<!doctype html><style>p{color:red}.nobody{color:blue}</style><header><button aria-expanded="false" onclick="onPress()">Menu</button></header>
<p>Words<script>function onPress(){ return 'ä' }</script>
<script id="pasted">function idle(){ return 'ä' }
ran = 1</script><script type="module">window.late = 1</script>
<script type="application/json">{"no":"code"}</script>`
const FILES: Record<string, [string, string]> = {
  '/': [
    'text/html; charset=utf-8',
    `<!doctype html><link rel="stylesheet" href="/s.css"><script src="/a.js"></script><p>Words
<script id="inline-busy">var end = performance.now() + 60; while (performance.now() < end);</script>
<script>setTimeout(function () { var s = document.createElement('script'); s.src = '/busy.js'; document.body.append(s) }, 50)</script>`,
  ],
  '/twice': ['text/html', '<script src="/a.js"></script><iframe src="/frame"></iframe>'],
  '/frame': ['text/html', '<script src="/a.js"></script><script>idle()</script>'],
  '/a.js': ['text/javascript; charset=utf-8', SCRIPT],
  '/busy.js': ['text/javascript', BUSY],
  '/s.css': ['text/css; charset=utf-8', STYLE],
  '/ahead': [
    'text/html',
    '<link rel="preload" as="script" href="/a.js"><link rel="preload" as="style" href="/s.css"><script src="/a.js"></script><p>x',
  ],
  '/written': ['text/html; charset=utf-8', WRITTEN],
  '/stuck': ['text/html', '<script src="/never.js"></script>'],
}

let browser: Browser
let server: Server
let origin: string

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  server = createServer((request, response) => {
    if (request.url === '/never.js') return
    const file = FILES[request.url ?? '']
    response.writeHead(file ? 200 : 404, { 'content-type': file?.[0] ?? 'text/plain' }).end(file?.[1] ?? '')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  origin = `http://code.localhost:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  await browser?.close()
  server?.closeAllConnections()
  await new Promise((resolve) => server?.close(resolve))
})

const read = (path: string) => readPage(browser, { reach: 'anywhere', url: origin + path, lens: DEFAULT_LENS.settings })

function usedText(reading: Reading, path: string): string[] {
  const request = reading.requests.find((r) => new URL(r.url).pathname === path)!
  const body = Buffer.from(FILES[path]![1])
  return (reading.fileUse.find((use) => use.requestId === request.id)?.used ?? []).map(([from, to]) =>
    body.subarray(from, to).toString(),
  )
}

it('a script’s used parts are those that ran, to the byte, whatever characters come before', async () => {
  const reading = await read('/')
  expect(usedText(reading, '/a.js')).toEqual(['function ran(){ return 1 }\n', '\nran();\n'])
})

it('a stylesheet’s used parts are the rules that apply here', async () => {
  expect(usedText(await read('/'), '/s.css')).toEqual(['p{color:red}', 'p:hover{color:green}'])
})

it('of code written into the page it is known what ran, to the byte, and charged to whoever pays for it', async () => {
  const read = await readPage(browser, {
    reach: 'anywhere',
    url: `${origin}/written`,
    lens: DEFAULT_LENS.settings,
    steps: stepsFor('page'),
  })
  const texts = inlineTexts(WRITTEN)
  const parts = (of: 'used' | 'laterUsed') =>
    read.inlineCode.map((code, n) => code[of]?.map(([a, b]) => Buffer.from(texts[n]!.text).subarray(a, b).toString()))
  expect(parts('used')).toEqual([['p{color:red}'], [], ['\nran = 1'], ['window.late = 1']])
  expect(parts('laterUsed')[1]).toEqual(["function onPress(){ return 'ä' }"])
  expect(inlineNeededLater(read)).toEqual([0, Buffer.byteLength("function onPress(){ return 'ä' }"), 0, 0])
  const sources = {
    ...NO_SOURCES,
    ownHosts: [new URL(origin).host],
    inline: [{ elementId: 'pasted', addon: 'pasted' }],
  }
  const byPayer = new Map(tolls(read, attribute(read, sources)).map((toll) => [toll.payer, toll]))
  expect(byPayer.get('pasted')!.idleBytes).toBe(Buffer.byteLength("function idle(){ return 'ä' }"))
  expect(byPayer.get('content')!.idleBytes).toBe(
    Buffer.byteLength(".nobody{color:blue}function onPress(){ return 'ä' }"),
  )
})

it('what is preloaded is told from what is asked for when it is needed, and counts once', async () => {
  const { requests, fileUse } = await read('/ahead')
  const of = (path: string) => requests.filter(({ url }) => new URL(url).pathname === path)
  expect(of('/a.js').map(({ initiator }) => initiator.type)).toEqual(['preload'])
  expect(of('/s.css').map(({ initiator }) => initiator.type)).toEqual(['preload'])
  expect(fileUse.map(({ requestId }) => requestId)).toEqual([of('/a.js')[0]!.id, of('/s.css')[0]!.id])
  // It came and was never put to use: all of it is idle.
  expect(fileUse[1]!.used).toEqual([])
  expect((await read('/')).requests.map(({ initiator }) => initiator.type)).not.toContain('preload')
})

it('is told by the session that Playwright has with the page anyway', async () => {
  const page = await browser.newPage()
  const session = sharedSession(page)
  // Not found after an upgrade, readings go on, and cost the page more.
  expect(session).not.toBeNull()
  const told: string[] = []
  session!.on('Network.requestWillBeSent', ({ request }) => told.push(request.url))
  await page.goto(`${origin}/frame`)
  await page.close()
  expect(told).toContain(`${origin}/a.js`)
})

it('a script that ran in a frame as well is idle only where it ran in neither', async () => {
  const reading = await read('/twice')
  const use = reading.fileUse.filter((u) => reading.requests.find((r) => r.id === u.requestId)!.url.endsWith('/a.js'))
  expect(use).toHaveLength(1)
  expect(covered(use[0]!.used)).toBe(Buffer.byteLength(SCRIPT))
})

it('agrees with the browser’s own coverage of the same script', async () => {
  const page = await browser.newPage()
  await page.coverage.startJSCoverage()
  await page.goto(origin + '/')
  const [entry] = (await page.coverage.stopJSCoverage()).filter((e) => e.url.endsWith('/a.js'))
  await page.close()
  const idle = entry!.functions.find((f) => f.functionName === 'idle')!.ranges[0]!
  const reading = await read('/')
  const used = reading.fileUse.find((u) => u.requestId === reading.requests.find((r) => r.url.endsWith('/a.js'))!.id)!
  const idleBytes = Buffer.byteLength(SCRIPT.slice(idle.startOffset, idle.endOffset))
  expect(Buffer.byteLength(SCRIPT) - covered(used.used)).toBe(idleBytes)
})

it('main-thread time goes to the file it was spent in, or to the code in the page', async () => {
  const reading = await read('/')
  const known = {
    ...NO_SOURCES,
    register: { '/busy.js': 'busy' },
    ownHosts: [new URL(origin).host],
    inline: [{ elementId: 'inline-busy', addon: 'pasted' }],
  }
  const byPayer = new Map(tolls(reading, attribute(reading, known)).map((toll) => [toll.payer, toll]))
  // How much of its time the processor was really given differs from machine to machine; whose it was does not.
  const [busy, pasted, ...others] = [...byPayer.values()].map((toll) => toll.mainThreadMs).sort((a, b) => b - a)
  expect([byPayer.get('busy')!.mainThreadMs, byPayer.get('pasted')!.mainThreadMs]).toEqual([busy, pasted])
  expect(pasted).toBeGreaterThan(2 * Math.max(0, ...others))
  expect(reading.timings.longestTask).toBeGreaterThanOrEqual(110)
  expect(reading.timings.answers).toBeGreaterThanOrEqual(reading.timings.firstContentfulPaint!)
})

it('a load that never ends says what it still waited for', async () => {
  const failure = await readPage(browser, {
    reach: 'anywhere',
    url: `${origin}/stuck`,
    lens: DEFAULT_LENS.settings,
    limits: { ...DEFAULT_LIMITS, loadMs: 2_000 },
  }).then(() => 'read', failureSentence)
  expect(failure).toBe(`The page did not finish loading in time. It still waited for ${origin}/never.js.`)
})
