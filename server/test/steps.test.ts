import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import { attribute, elementsByPayer, neededLater, NO_SOURCES, stepsFor, type Reading } from '@unvelt/core'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'
import type { ReadingOrder } from '../src/browser/reading-order.js'
import type { Picture } from '../src/browser/take-picture.js'
import { shared } from '../../testing/shared.js'

const LATER = `function open(){ var s = document.createElement('script'); s.src = '/menu.js'; document.body.append(s) }
function never(){ return 1 }
document.getElementById('m').onclick = open
addEventListener('load', function () { setTimeout(function () { fetch('/ping') }, 1200) })
var list = document.createElement('ul'); list.innerHTML = '<li>1<li>2'; document.body.append(list)
`
const BODY = `<!doctype html><title>Shop</title><header><button class="danger" onclick="fetch('/pressed')">Empty it all</button><button id="m" aria-expanded="false">Menu</button></header>
<input type="search" onfocus="fetch('/words')">
<main style="height:3000px"><form action="/enquiry"><input name="name"><input type="email" name="mail" oninput="document.title = this.value">
<input type="checkbox" onchange="fetch('/ticked')"><button>Send</button></form>
<div style="height:2000px"></div><img loading="lazy" src="/far.png" width="9" height="9">
<form method="post" action="/basket"><button>Into the basket</button></form></main><script src="/later.js"></script>`
const FILES: Record<string, [type: string, body: string]> = {
  '/product': ['text/html', BODY],
  '/bare': ['text/html', '<!doctype html><title>Bare</title><p>Nothing to do here.'],
  '/letter': ['text/html', '<textarea name="letter" oninput="fetch(`/typed?${this.value.length}`)"></textarea>'],
  '/busy': ['text/html', '<!doctype html><title>Busy</title><script src="/busy.js"></script>'],
  '/busy.js': ['text/javascript', 'for (let n = 0, s = 0; n < 3e7; n++) s += Math.sqrt(n); document.title = "Done"'],
  '/later.js': ['text/javascript', LATER],
  '/menu.js': ['text/javascript', 'document.title'],
  '/basket': ['text/html', '<title>Basket</title>'],
}

let browser: Browser
let server: Server
let origin: string
const asked: string[] = []
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  server = createServer((request, response) => {
    asked.push(request.url!)
    const [type, body] = FILES[request.url!] ?? ['text/plain', '']
    response.writeHead(200, { 'content-type': type, 'cache-control': 'no-store' }).end(body)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  origin = `http://steps.localhost:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  await browser?.close()
  server?.closeAllConnections()
  await new Promise((resolve) => server?.close(resolve))
})

/** The newest of each page, by path. */
const pictures = new Map<string, Picture>()
const read = (path: string, kind: string, more: Partial<ReadingOrder> = {}) =>
  readPage(browser, {
    reach: 'anywhere',
    url: origin + path,
    lens: DEFAULT_LENS.settings,
    steps: stepsFor(kind),
    onPicture: (taken) => void pictures.set(path, taken),
    ...more,
  })
/** Of a page that is read as an event's, with its picture. */
const event = shared(() => read('/product', 'event'))
const pathsOf = (requests: Reading['requests']) => requests.map(({ url }) => new URL(url).pathname)

it('does what visitors do, keeps it apart from the load, and sends no form but the basket’s', async () => {
  const reading = await read('/product', 'product')
  const brought = Object.fromEntries(reading.steps.map(({ name, requests }) => [name, pathsOf(requests)]))
  expect(pathsOf(reading.requests).filter((path) => path !== '/favicon.ico')).toEqual(['/product', '/later.js'])
  expect(brought).toMatchObject({
    'by itself': ['/ping'],
    scroll: ['/far.png'],
    'open the menu': ['/menu.js'],
    search: ['/words'],
    'fill the form': ['/ticked'],
  })
  expect(brought['add to basket']).toContain('/basket')
  expect(reading.steps.map(({ outcome }) => outcome)).toEqual(Array(6).fill('done'))
  expect(reading.title).toBe('Shop')
  expect(asked).not.toContain('/enquiry')
  expect(asked).not.toContain('/pressed')
})

it('tells what lay idle and was needed later', async () => {
  const reading = await event()
  const script = reading.requests.find(({ url }) => url.endsWith('/later.js'))!
  expect(neededLater(reading).get(script.id)).toBeGreaterThan(LATER.indexOf('function never') - 5)
  const [use] = reading.laterUse.filter(({ requestId }) => requestId === script.id)
  expect(use!.used.some(([from, to]) => from <= LATER.indexOf('never(){') && to > LATER.indexOf('return 1'))).toBe(
    false,
  )
})

it('tells which elements scripts have made', async () => {
  const reading = await event()
  const [own, made] = reading.elementMakers
  expect(reading.elementMakers.reduce((sum, { elements }) => sum + elements, 0)).toBe(reading.domElements)
  expect(own!.stack).toEqual([])
  expect(made).toMatchObject({ stack: [{ url: `${origin}/later.js` }] })
  const prefixes = [{ prefix: `${origin}/later`, addon: 'later' }]
  expect(elementsByPayer(reading, attribute(reading, { ...NO_SOURCES, prefixes })).get('later')).toEqual({
    written: 0,
    made: 3,
  })
})

it('loads as slowly as the lens says, and goes on as fast as it can', async () => {
  const { settings } = DEFAULT_LENS
  const lens = { ...settings, network: { latencyMs: 1200, downKbps: 20_000, upKbps: 5_000 } }
  const reading = await read('/product', 'event', { lens })
  const took = (requests: Reading['requests'], path: string) => {
    const { startedMs, endedMs } = requests.find(({ url }) => url.endsWith(path))!
    return endedMs! - startedMs
  }
  expect(took(reading.requests, '/later.js')).toBeGreaterThan(1100)
  const menu = reading.steps.find(({ name }) => name === 'open the menu')!
  expect(took(menu.requests, '/menu.js')).toBeLessThan(1100)
})

it('tells no times where nobody looks at them, and slows no processor for them', async () => {
  const device = { ...DEFAULT_LENS.settings.device, cpuSlowdown: 10 }
  const lens = { ...DEFAULT_LENS.settings, device }
  const rounds: { watched: Reading; unwatched: Reading }[] = []
  for (let round = 0; round < 3; round++)
    rounds.push({
      watched: await read('/busy', 'event', { lens, steps: [] }),
      unwatched: await read('/busy', 'event', { lens, steps: [], untimed: true }),
    })
  const { watched, unwatched } = rounds[0]!
  expect([watched.untimed, unwatched.untimed]).toEqual([undefined, true])
  expect(watched.mainThread).not.toEqual([])
  expect(unwatched.mainThread).toEqual([])
  // Whatever else the machine does only ever makes a task longer, so the shortest in turn tells: some 50 ms, and ten times that.
  const shortest = (side: 'watched' | 'unwatched') =>
    Math.min(...rounds.map((round) => round[side].timings.longestTask ?? 50))
  expect(shortest('watched')).toBeGreaterThan(3 * shortest('unwatched'))
})

it('pictures the whole page, and one that nobody scrolls as well', async () => {
  await event()
  const picture = pictures.get('/product')!
  expect(picture.width).toBe(1280)
  expect(picture.height).toBeGreaterThan(3000)
  expect(picture.jpeg.subarray(0, 2).toString('hex')).toBe('ffd8')
  pictures.clear()
  await read('/product', 'event', { steps: [] })
  expect(pictures.get('/product')!.height).toBe(picture.height)
})

it('a long text is typed to its end, by keys at the last', async () => {
  const text = 'Is the ice house open in winter? '.repeat(20).trim()
  const actions = [{ do: 'type' as const, at: '[name=letter]', text }]
  const { steps } = await read('/letter', 'page', { steps: [{ name: 'write', kind: null, actions }] })
  expect(steps.find(({ name }) => name === 'write')?.outcome).toBe('done')
  expect(asked).toContain(`/typed?${text.length}`)
  expect(asked.filter((path) => path.startsWith('/typed')).length).toBeGreaterThan(10)
})

it('says what a page has nothing for', async () => {
  const { steps } = await read('/bare', 'product')
  expect(steps.map(({ name, outcome }) => `${name}: ${outcome}`)).toEqual([
    'by itself: done',
    'scroll: done',
    'open the menu: not there',
    'search: not there',
    'fill the form: not there',
    'add to basket: not there',
  ])
})
