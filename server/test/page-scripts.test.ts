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

async function readUnder(effects: Partial<ResolvedEffect>[], html: string) {
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
  page = rewriter.write(html.replaceAll('PORT', String(port))) + rewriter.end()
  const reading = await readPage(browser, { reach: 'anywhere', url: pageUrl, lens: DEFAULT_LENS.settings })
  return {
    asked: reading.requests.map((r) => new URL(r.url).pathname),
    at: (path: string) => reading.requests.find((r) => r.url.endsWith(path))?.startedMs ?? NaN,
    said: reading.consoleErrors.filter((text) => !/404|favicon/.test(text)),
    load: reading.timings.load!,
  }
}

it('the stopper refuses every way in which a script can insert another, and lets the rest through', async () => {
  const inserting = `<html><head><script>
    var add = function (src, how) { var s = document.createElement('script'); how(s, src); document.head.appendChild(s) }
    add('/form/a.js', function (s, src) { s.src = src })
    add('/form/b.js', function (s, src) { s.setAttribute('src', src) })
    add('http://cdn.far.localhost:PORT/c.js', function (s, src) { s.src = src })
    var box = document.createElement('div'); box.innerHTML = '<img src="http://cdn.far.localhost:PORT/d.png">'
    document.head.append(box)
    var link = document.createElement('link'); link.rel = 'stylesheet'; link.href = '/form/e.css'; document.head.insertBefore(link, null)
    add('/fine.js', function (s, src) { s.src = src })
  </script></head><body></body></html>`
  const free = await readUnder([{ addon: 'nobody' }], inserting)
  expect(free.asked).toEqual(
    expect.arrayContaining(['/form/a.js', '/form/b.js', '/c.js', '/d.png', '/form/e.css', '/fine.js']),
  )
  const stopped = await readUnder([{ addon: 'form' }, { addon: 'far' }], inserting)
  expect(stopped.asked).toContain('/fine.js')
  // A picture in a text of HTML is asked for before it can be refused; all else is not.
  for (const path of ['/form/a.js', '/form/b.js', '/c.js', '/form/e.css']) expect(stopped.asked).not.toContain(path)
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
