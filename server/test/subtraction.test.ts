import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import { attribute, NO_SOURCES, predict, type Reading } from '@unvelt/core'
import { launchBrowser } from '../src/browser/browser.js'
import { DEFAULT_LIMITS } from '../src/browser/limits.js'
import { readPage } from '../src/browser/read-page.js'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'

/**
 * On a site that tells nothing of itself: each add-on is switched off in turn, and the page must fall by exactly the requests and
 * bytes that it alone was charged with, the document itself aside.
 */
let browser: Browser
let server: Server
let port: number

const far = (name: string) => `http://${name}.localhost:${port}`
/** Add-on → the tags by which it stands in the page. */
const tags = (): Record<string, string> => ({
  'own:/parts/walks/': '<script src="/parts/walks/walks.js"></script>',
  'own:/parts/map/': '<script src="/parts/map/map.js" defer></script><link rel="stylesheet" href="/parts/map/map.css">',
  'own:/parts/form/':
    '<link rel="stylesheet" href="/parts/form/form.css"><script>addEventListener("load", () => {})</script>',
  'own:/parts/gallery/': '<div id="gallery"></div><script type="module" src="/parts/gallery/gallery.js"></script>',
  'own:/parts/news/': '<script async src="/parts/news/news.js"></script><img src="/parts/news/sign.png" alt="">',
  'outside:stats.localhost': `<script src="${far('stats')}/s.js"></script>`,
  'outside:types.localhost': `<link rel="stylesheet" href="${far('types')}/f.css"><p style="font-family: Far">far</p>`,
  'outside:chat.localhost': `<iframe src="${far('chat')}/frame"></iframe>`,
  'outside:films.localhost': `<video src="${far('films')}/v.mp4" poster="${far('films')}/v.png" preload="auto"></video>`,
})
const files = (): Record<string, string> => ({
  '/parts/walks/walks.js': `new Image().src = '/parts/walks/leaf.png'; new Image().src = '/pictures/tree.png'
    navigator.sendBeacon('/counted', 'x'); setTimeout(() => { new Image().src = '/pictures/late.png' }, 20)`,
  '/parts/map/map.js': `const f = document.createElement('iframe'); f.src = '${far('tiles')}/frame'; document.body.append(f)
    const v = document.createElement('video'); v.src = '/films/flight.mp4'; v.preload = 'auto'; document.body.append(v)`,
  '/parts/map/map.css': '@import "/parts/map/more.css"; body { background: url(/parts/map/grid.png) }',
  '/parts/map/more.css': 'h1 { color: navy }',
  '/parts/form/form.css': '@font-face { font-family: Near; src: url(/parts/form/near.woff2) } h1 { font-family: Near }',
  '/parts/gallery/gallery.js': `import '/parts/gallery/deep.js'
    document.querySelector('#gallery').innerHTML = '<img src="/pictures/a.png"><img srcset="/pictures/b.png 1x">'`,
  '/parts/gallery/deep.js': `import('/parts/gallery/lazy.js'); fetch('/list.json')`,
  '/parts/gallery/lazy.js': '',
  '/parts/news/news.js': `const s = document.createElement('script'); s.src = '${far('wire')}/w.js'; document.head.append(s)`,
  '/w.js': `new Image().src = '${far('wire')}/pixel.gif'; navigator.sendBeacon('${far('wire')}/beacon', 'x')`,
  '/s.js': `const s = document.createElement('script'); s.src = '${far('ads')}/a.js'; document.head.append(s)
    new Image().src = '${far('stats')}/p.gif'`,
  '/a.js': `const f = document.createElement('iframe'); f.src = '${far('ads')}/frame'; document.body.append(f)`,
  '/f.css': '@font-face { font-family: Far; src: url(/far.woff2) }',
})

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  server = createServer((request, response) => {
    const { pathname, searchParams } = new URL(request.url!, 'http://any')
    response.setHeader('cache-control', 'no-store')
    // Shown with a sign of its own, so that no browser asks for another one by itself.
    const kept = Object.entries(tags()).filter(([payer]) => payer !== searchParams.get('without'))
    if (pathname === '/page')
      return response
        .setHeader('content-type', 'text/html')
        .end(
          `<!doctype html><link rel="icon" href="data:,"><body><h1>A page</h1><img src="/pictures/own.png" alt="">${kept.map(([, tag]) => tag).join('\n')}`,
        )
    if (pathname === '/frame')
      return response
        .setHeader('content-type', 'text/html')
        .end('<script src="/inner.js"></script><img src="/inner.png">')
    const type = pathname.endsWith('.css')
      ? 'text/css'
      : pathname.endsWith('.js')
        ? 'text/javascript'
        : 'application/octet-stream'
    response.setHeader('content-type', type).setHeader('access-control-allow-origin', '*')
    const own = files()[pathname]
    // Each in a scope of its own, as well-bred scripts are.
    if (pathname.endsWith('.js')) response.end(own && !pathname.includes('gallery') ? `{${own}}` : (own ?? ''))
    else response.end(own ?? 'x'.repeat(pathname.length * 10))
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  port = (server.address() as AddressInfo).port
})
afterAll(async () => {
  await browser?.close()
  server?.closeAllConnections()
  await new Promise((resolve) => server?.close(resolve))
})

const read = (without = '') =>
  readPage(browser, {
    reach: 'anywhere',
    url: `${far('plain')}/page${without && `?without=${encodeURIComponent(without)}`}`,
    lens: DEFAULT_LENS.settings,
    steps: [],
    // A film that is none keeps its connection; all else has come long before.
    limits: { ...DEFAULT_LIMITS, quietWaitMs: 2_000 },
  })
const filesOf = (requests: Reading['requests']) =>
  requests
    .filter(({ type }) => type !== 'document')
    .map(({ url, transferBytes }) => `${url} ${transferBytes}`)
    .sort()

it('the page falls by what each add-on was charged with, and as was predicted', async () => {
  const sources = { ...NO_SOURCES, ownHosts: [`plain.localhost:${port}`], byOwnFolders: true }
  const whole = await read()
  const attribution = attribute(whole, sources)
  const payerOf = ({ id }: { id: string }) => attribution.requests.get(id)!.payer
  expect(new Set(whole.requests.map(payerOf))).toEqual(new Set(['content', ...Object.keys(tags())]))
  for (const payer of Object.keys(tags())) {
    const without = filesOf((await read(payer)).requests)
    expect([payer, without]).toEqual([payer, filesOf(whole.requests.filter((request) => payerOf(request) !== payer))])
    const predicted = predict(whole, attribution, new Map([[payer, 'skip']]), { needs: {}, libraries: [] })
    const left = whole.requests.filter(({ id }) => !predicted.requests.includes(id))
    expect([payer, filesOf(left)]).toEqual([payer, without])
  }
}, 600_000)
