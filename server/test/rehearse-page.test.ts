import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import {
  judgeGuards,
  NO_SOURCES,
  planRewrite,
  resolve,
  stepsFor,
  type GuardLook,
  type Reading,
  type Rule,
} from '@unvelt/core'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'
import { FIRST_LENSES } from '../src/lens/lens-settings.js'

const PAGE = `<!doctype html><html lang="en"><head><title>Orchard</title><meta name="viewport" content="width=device-width">
<style>nav ul{margin:0} @media (max-width:600px){nav ul{display:none}}</style></head><body>
<header><nav aria-label="Main"><button id="b" aria-expanded="false">Menu</button><ul><li><a href="/pears">Pears</a></ul></nav></header>
<main style="min-height:900px"><h1>Orchard</h1><form action="/ask"><input name="mail" type="email"></form></main>
<script src="/kit/menu/menu.js"></script><script src="/kit/tags/tags.js"></script></body></html>`
const FILES: Record<string, [type: string, body: string]> = {
  '/': ['text/html', PAGE],
  '/kit/menu/menu.js': [
    'text/javascript',
    `const b = document.getElementById('b'); b.onclick = () => { b.ariaExpanded = 'true'; document.querySelector('nav ul').style.display = 'block' }`,
  ],
  '/kit/tags/tags.js': [
    'text/javascript',
    `const s = document.createElement('script'); s.src = '/kit/count/count.js'; document.head.append(s)`,
  ],
  '/kit/count/count.js': ['text/javascript', 'window.counted = 1'],
}

let browser: Browser
let server: Server
let origin: string
const asked: string[] = []
let policy: string | null = null
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  server = createServer((request, response) => {
    asked.push(request.url!)
    const [type, body] = FILES[request.url!] ?? ['text/plain', '']
    response
      .writeHead(FILES[request.url!] ? 200 : 404, {
        'content-type': type,
        'cache-control': 'no-store',
        ...(policy !== null && { 'content-security-policy': policy }),
      })
      .end(body)
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  origin = `http://orchard.localhost:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  await browser?.close()
  server?.closeAllConnections()
  server?.close()
})

const ADD_ONS = ['menu', 'tags', 'count']
const sources = () => ({
  ...NO_SOURCES,
  ownHosts: [new URL(origin).host],
  prefixes: ADD_ONS.map((addon) => ({ prefix: `/kit/${addon}/`, addon })),
})
const page = { path: '/', kind: 'page', area: 'public' as const, signedIn: false }

async function read(addon: string | null, phone: boolean): Promise<{ look: GuardLook; reading: Reading }> {
  const rules: Rule[] = addon ? [{ id: 'a', addon, effect: 'leave-out', place: { level: 'everywhere' } }] : []
  const lens = { ...FIRST_LENSES[phone ? 1 : 0]!.settings, network: null }
  let look: GuardLook | null = null
  const reading = await readPage(browser, {
    url: `${origin}/`,
    lens,
    untimed: true,
    reach: 'anywhere',
    steps: stepsFor('page'),
    rewrite: (url) => {
      const effects = resolve(rules, page, { device: phone ? 'handset' : 'desk', visitor: 'signed-out' })
      return addon ? planRewrite({ effects, sources: sources(), pageUrl: url.href }) : null
    },
    onLook: (seen) => (look = seen),
  })
  return { look: look!, reading }
}

const failing = (without: GuardLook[], withRules: GuardLook) =>
  judgeGuards(without, [withRules]).filter(({ outcome }) => outcome === 'fails')

it('a menu that only a script opens is missed on a phone, and not at a desk', async () => {
  const desk = [(await read(null, false)).look, (await read(null, false)).look]
  expect(desk[0]!.controls).toEqual(expect.arrayContaining(['button: Menu', 'link: Pears']))
  expect(failing(desk, (await read('menu', false)).look)).toEqual([])
  const phone = (await read(null, true)).look
  expect(phone.steps.find(({ name }) => name === 'open the menu')?.controls).toContain('link: Pears')
  const found = failing([phone], (await read('menu', true)).look)
  expect(found.map(({ guard }) => guard)).toContain('steps')
  expect(found.find(({ guard }) => guard === 'steps')!.gone).toContain('open the menu → link: Pears')
})

it('what a script inserts is refused by the stopper, and never asked for', async () => {
  asked.length = 0
  await read(null, false)
  expect(asked).toContain('/kit/count/count.js')
  asked.length = 0
  const { look } = await read('count', false)
  expect(asked).not.toContain('/kit/count/count.js')
  expect(asked).toContain('/kit/tags/tags.js')
  expect(look.title).toBe('Orchard')
})

it('a page that goes through the rewriter untouched reads like one that does not', async () => {
  const through = (await read(null, false)).reading
  const bare = await readPage(browser, {
    url: `${origin}/`,
    lens: FIRST_LENSES[0]!.settings,
    untimed: true,
    reach: 'anywhere',
  })
  const files = ({ requests }: Reading) =>
    requests.map(({ url, decodedBytes, status }) => [url, decodedBytes, status]).sort()
  expect(files(through)).toEqual(files(bare))
})

it('a page whose policy allows no inline script lets the stopper run all the same, and nothing else', async () => {
  policy = "default-src 'self'; style-src 'unsafe-inline'"
  try {
    const without = (await read(null, false)).look
    asked.length = 0
    const { look } = await read('count', false)
    expect(asked).not.toContain('/kit/count/count.js')
    expect(failing([without], look)).toEqual([])
  } finally {
    policy = null
  }
})

it('a policy in the page itself comes after the stopper, and keeps nothing from it', async () => {
  const [type, body] = FILES['/']!
  const within = `<meta http-equiv="content-security-policy" content="default-src 'self'; style-src 'unsafe-inline'">`
  FILES['/'] = [type, body.replace('<head>', `<head>${within}`)]
  try {
    expect(FILES['/'][1]).toContain(within)
    const without = (await read(null, false)).look
    asked.length = 0
    const { look } = await read('count', false)
    expect(asked).toContain('/kit/tags/tags.js')
    expect(asked).not.toContain('/kit/count/count.js')
    expect(failing([without], look)).toEqual([])
  } finally {
    FILES['/'] = [type, body]
  }
})

it('a page tells its landmarks, links and fields', async () => {
  const { look } = await read(null, false)
  expect(look.status).toBe(200)
  expect(look.landmarks.map(({ role }) => role)).toEqual(expect.arrayContaining(['navigation', 'main']))
  expect(look.landmarks.find(({ role }) => role === 'main')!.height).toBeGreaterThanOrEqual(900)
  expect(look.links).toContain('/pears')
  expect(look.fields).toContain('/ask#mail: email')
})
