import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import { HtmlRewriter, NO_SOURCES, planRewrite, type ResolvedEffect } from '@unvelt/core'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'

/** The scripts that the rewriter puts into pages, tried in the real browser. */
let browser: Browser
let server: Server
let port: number
let page = ''

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  server = createServer((request, response) => {
    const { pathname } = new URL(request.url!, 'http://x')
    if (pathname === '/page') return response.setHeader('content-type', 'text/html').end(page)
    if (pathname.endsWith('.js')) response.setHeader('content-type', 'text/javascript')
    response.end(pathname.endsWith('.js') ? `console.error('ran ${pathname}')` : '')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  port = (server.address() as AddressInfo).port
})
afterAll(async () => {
  await browser?.close()
  server?.closeAllConnections()
  await new Promise((resolve) => server?.close(resolve))
})

function rewritten(effects: Partial<ResolvedEffect>[], html: string): string {
  const pageUrl = `http://own.localhost:${port}/page`
  const sources = {
    ...NO_SOURCES,
    ownHosts: [`own.localhost:${port}`],
    prefixes: [{ prefix: '/form/', addon: 'form' }],
    outsiders: { 'far.localhost': 'far' },
  }
  const full = effects.map(
    (e) => ({ addon: 'form', effect: 'leave-out', rules: [], conflictsWith: [], ...e }) as ResolvedEffect,
  )
  const rewriter = new HtmlRewriter(planRewrite({ effects: full, sources, pageUrl }))
  return rewriter.write(html) + rewriter.end()
}

async function readUnder(effects: Partial<ResolvedEffect>[], html: string) {
  const pageUrl = `http://own.localhost:${port}/page`
  page = rewritten(effects, html)
  const reading = await readPage(browser, { reach: 'anywhere', url: pageUrl, lens: DEFAULT_LENS.settings })
  return {
    asked: reading.requests.map((r) => new URL(r.url).pathname),
    at: (path: string) => reading.requests.find((r) => r.url.endsWith(path))?.startedMs ?? NaN,
    said: reading.consoleErrors.filter((text) => !/404|favicon/.test(text)),
    load: reading.timings.load!,
  }
}

/** How scripts insert or ask for things; `A` is an address. */
const REFUSED: Record<string, string> = {
  'src before': 'var s=document.createElement("script");s.src=A;document.head.appendChild(s)',
  'src after': 'var s=document.createElement("script");document.head.appendChild(s);s.src=A',
  'an attribute before': 'var s=document.createElement("script");s.setAttribute("src",A);document.head.append(s)',
  'an attribute after': 'var i=document.createElement("img");document.body.prepend(i);i.setAttribute("SRC",A)',
  'insertBefore': 'var s=document.createElement("script");s.src=A;document.head.insertBefore(s,document.head.firstChild)',
  'insertAdjacentElement': 'var i=document.createElement("iframe");i.src=A;document.body.insertAdjacentElement("beforeend",i)',
  innerHTML: 'var d=document.createElement("div");d.innerHTML="<img src="+A+">";document.body.append(d)',
  'innerHTML in the page': 'var d=document.createElement("div");document.body.append(d);d.innerHTML="<p><iframe src="+A+"></iframe>"',
  outerHTML: 'var d=document.createElement("div");document.body.append(d);d.outerHTML="<link rel=stylesheet href="+A+">"',
  insertAdjacentHTML: 'document.body.insertAdjacentHTML("beforeend","<img srcset=\'"+A+" 1x\'>")',
  'document.write': 'document.write("<script src="+A+"><"+"/script>")',
  'document.write, quoted': 'document.writeln(\'<link rel=stylesheet href="\'+A+\'">\')',
  'a fragment': 'var f=document.createRange().createContextualFragment("<script src="+A+"><"+"/script>");document.body.append(f)',
  'a template’s copy': 'var t=document.createElement("template");t.innerHTML="<img src="+A+">";document.body.append(t.content.cloneNode(true))',
  'a clone': 'var i=document.createElement("iframe");i.src=A;document.body.append(i.cloneNode())',
  'a shadow root': 'var d=document.createElement("div");document.body.append(d);d.attachShadow({mode:"open"}).innerHTML="<img src="+A+">"',
  'a custom element': 'customElements.define("x-a"+N,class extends HTMLElement{connectedCallback(){this.innerHTML="<img src="+A+">"}});document.body.append(document.createElement("x-a"+N))',
  'new Image': 'new Image().src=A',
  'new Image with a set': 'new Image().srcset=A+" 2x"',
  'a film': 'var v=document.createElement("video");v.src=A;document.body.append(v)',
  'an object': 'var o=document.createElement("object");o.data=A;document.body.append(o)',
  'a preload': 'var l=document.createElement("link");l.rel="preload";l.as="script";l.href=A;document.head.append(l)',
  'a module preload': 'var l=document.createElement("link");l.rel="modulepreload";l.href=A;document.head.append(l)',
  fetch: 'fetch(A).catch(function(){})',
  'fetch of a request': 'fetch(new Request(A)).catch(function(){})',
  sendBeacon: 'navigator.sendBeacon(A,"x")',
  XMLHttpRequest: 'var x=new XMLHttpRequest();x.open("GET",A);x.send()',
  'a worker': 'new Worker(A)',
  EventSource: 'new EventSource(A)',
  '@import in the object model': 'var s=document.createElement("style");document.head.append(s);s.sheet.insertRule("@import url("+A+")",0)',
} // prettier-ignore
/** What no script of ours can stand before; the prediction promises none of it. */
const OUT_OF_REACH: Record<string, string> = {
  'import()': 'import(A).catch(function(){})',
  'an import in a module': 'var s=document.createElement("script");s.type="module";s.text="import "+JSON.stringify(A);document.head.append(s)',
  'an address in a style': 'document.body.style.backgroundImage="url("+A+")"',
  'an @import in a text of style': 'var s=document.createElement("style");s.textContent="@import url("+A+")";document.head.append(s)',
} // prettier-ignore

it('the stopper refuses the ways in which scripts insert and ask for things, but those that are out of its reach', async () => {
  const ways = Object.entries({ ...REFUSED, ...OUT_OF_REACH })
  const script = (folder: string) =>
    ways
      .map(([, code], n) => `try{(function(A,N){${code}})("/${folder}/${n}.js",${n})}catch(e){console.error('no',e)}`)
      .join('\n')
  const html = `<html><head></head><body><script>${script('form')}</script><script>${script('fine').replaceAll('x-a', 'x-b')}</script></body></html>`
  const askedBy = (asked: string[], folder: string) =>
    ways.flatMap(([name], n) => (asked.includes(`/${folder}/${n}.js`) ? [name] : [])).sort()
  const all = ways.map(([name]) => name).sort()
  const free = await readUnder([{ addon: 'nobody' }], html)
  expect(askedBy(free.asked, 'form')).toEqual(all)
  const stopped = await readUnder([{ addon: 'form' }], html)
  expect(askedBy(stopped.asked, 'form')).toEqual(Object.keys(OUT_OF_REACH).sort())
  expect(askedBy(stopped.asked, 'fine')).toEqual(all)
})

it('what the HTML names is not asked for, wherever it stands in it', async () => {
  const places = [
    '<link rel=stylesheet href=A>', '<script src=A></script>', '<script type=module src=A></script>', '<img src=A>', '<img srcset="A 1x">',
    '<picture><source srcset=A><img></picture>', '<video src=A></video>', '<video poster=A></video>', '<video><source src=A></video>',
    '<audio src=A preload=auto></audio>', '<object data=A></object>', '<embed src=A>', '<input type=image src=A>', '<iframe src=A></iframe>',
    '<link rel=icon href=A>', '<svg><image href=A /></svg>', '<svg><script href=A /></svg>', '<style>@import "A";</style>',
    '<p style="background:url(A)">x</p>', '<table background=A><tr><td>x</table>', '<link rel=preload as=image href=A>',
    '<link rel=modulepreload href=A>', '<link rel=prefetch href=A>',
  ] // prettier-ignore
  const html = `<html><head></head><body>${places.map((place, n) => place.replaceAll('A', `/form/${n}.js`)).join('\n')}</body></html>`
  const of = (asked: string[]) => places.filter((_, n) => asked.includes(`/form/${n}.js`))
  // Whatever the browser does ask for when nothing is taken out; a headless one asks for no sign.
  expect(of((await readUnder([{ addon: 'nobody' }], html)).asked)).toEqual(
    expect.arrayContaining(places.filter((place) => !place.includes('icon'))),
  )
  expect(of((await readUnder([{ addon: 'form' }], html)).asked)).toEqual([])
})

it('a press brings back all that one payer has, and takes all its buttons away', async () => {
  const tab = await browser.newPage()
  try {
    const html = `<html><head><title>T</title><link rel="preload" as="style" href="/form/p.css" onload="this.rel='stylesheet'"><script src="/form/h.js"></script></head>
      <body><iframe src="/form/f"></iframe><p>between</p><picture><source srcset="/form/s.png"><img alt=""></picture><iframe src="/form/g"></iframe></body></html>`
    const asked: string[] = []
    tab.on('request', (request) => asked.push(new URL(request.url()).pathname))
    page = rewritten([{ effect: 'hold', until: 'asked' }], html)
    await tab.goto(`http://own.localhost:${port}/page`)
    expect(asked.filter((path) => path.startsWith('/form/'))).toEqual([])
    expect(await tab.locator('button').count()).toBe(2)
    await tab.locator('button').last().click()
    await tab.waitForFunction(() => document.querySelectorAll('link[rel=stylesheet]').length === 1)
    await tab.waitForLoadState('networkidle')
    expect(asked.filter((path) => path.startsWith('/form/')).sort()).toEqual(
      expect.arrayContaining(['/form/f', '/form/g', '/form/h.js', '/form/p.css', '/form/s.png']),
    )
    expect(await tab.locator('button').count()).toBe(0)
  } finally {
    await tab.close()
  }
})

it('what is held until the page is idle comes after the load, in its order, and runs', async () => {
  const { said, at, load } = await readUnder(
    [{ effect: 'hold', until: 'idle' }],
    '<html><head><script src="/form/1.js"></script><script src="/form/2.js"></script><link rel=stylesheet href=/form/s.css></head><body><script src="/own.js"></script></body></html>',
  )
  expect(said).toEqual(['ran /own.js', 'ran /form/1.js', 'ran /form/2.js'])
  for (const file of ['/form/1.js', '/form/2.js', '/form/s.css']) expect(at(file)).toBeGreaterThanOrEqual(load - 5)
})

it('what is held for an input or a press does not come by itself', async () => {
  for (const until of ['input', 'asked'] as const) {
    const { asked } = await readUnder(
      [{ effect: 'hold', until }],
      '<html><head></head><body><script src="/form/1.js"></script><iframe src="/form/f"></iframe></body></html>',
    )
    expect(asked.filter((path) => path.startsWith('/form/'))).toEqual([])
  }
})
