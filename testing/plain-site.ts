import { createServer } from 'node:http'
import { gzipSync } from 'node:zlib'
import type { AddressInfo } from 'node:net'

export interface PlainSite {
  address: string
  /** Paths that were asked for, in order. */
  asked: string[]
  /** Whether it lists its pages in a sitemap. */
  hasSitemap: boolean
  /** What stands before it and changes its pages on their way, as a gate of its owner's would. */
  gate: ((html: string) => string) | null
  /** Whether its server packs what is text. */
  packs: boolean
  /** Files that somebody has put there since, in the place of others or anew, by path. */
  replaced: Map<string, string | Buffer>
  stop(): Promise<void>
}

/** What is glued together in `/made/all.js`. */
export const REEDS = `window.reeds = '${'|'.repeat(500)}'`
export const OTTERS = `window.otters = '${'~'.repeat(900)}'`

/** A page that is never twice the same, and on which one add-on needs what another brings. */
const RESTLESS = `<meta name="viewport" content="width=device-width"><style>
    @media (max-width: 700px) { nav { display: none } nav.open { display: block } }
    #drift { position: relative; width: 90px; height: 40px; background: teal } figure { height: 160px; margin: 1em 0 }</style>
    <header><button id="menu" aria-expanded="false">Menu</button><nav aria-label="Main"><a href="/">Home</a> <a href="/#news">News</a></nav></header>
    <main><p id="clock"></p><figure id="slide"></figure><div id="drift"></div><ul id="found"></ul><p id="tabs"></p></main>`
const RESTLESS_FILES: Record<string, string> = {
  'willow-menu/menu.js': `const button = document.getElementById('menu')
    button.onclick = () => button.setAttribute('aria-expanded', String(document.querySelector('nav').classList.toggle('open')))`,
  'rush-clock/clock.js': `const draw = () => {
      document.getElementById('clock').textContent = 'It is ' + performance.timeOrigin + performance.now() + ' at the mill'
      document.getElementById('drift').style.left = 40 + 40 * Math.sin(performance.now() / 300) + 'px'
      requestAnimationFrame(draw)
    }
    draw()
    const slide = document.getElementById('slide')
    const show = () => { slide.style.background = 'hsl(' + Math.floor(Math.random() * 360) + ' 60% 40%)'; slide.textContent = 'Slide ' + Math.random() }
    show(); setInterval(show, 400)
    document.getElementById('found').innerHTML = ['reed', 'rush', 'sedge', 'iris'].sort(() => Math.random() - 0.5).map((name) => '<li>' + name + '</li>').join('')`,
  'common-tools/common.js': `window.commonTools = { fill: (id, text) => { document.getElementById(id).textContent = text } }`,
  'pond-tabs/tabs.js': `commonTools.fill('tabs', 'Depth and width')`,
}

/**
 * A small site that tells nothing of itself: pages that link to each other, add-ons in folders, one outsider.
 * @param closedTo `NAME:PASSWORD` without which it is closed to the public, the outsider aside.
 * @param restless One page alone, which moves by itself, with a menu, a tag container and a library that others need.
 */
export async function plainSite({
  closedTo,
  restless = false,
}: { closedTo?: string; restless?: boolean } = {}): Promise<PlainSite> {
  const asked: string[] = []
  const address = () => `http://plain.localhost:${(server.address() as AddressInfo).port}`
  const outside = () => address().replace('plain.', 'stranger.')
  const page = (title: string, links: string[]) => `<!doctype html><title>${title} – Millpond Society</title>
    <link rel="stylesheet" href="/look/pond/pond.css"><script src="/parts/heron-gallery/js/gallery.js"></script>
    <script src="/made/all.js"></script><script src="${outside()}/count.js"></script><img src="/pictures/mill.png" alt="">
    <script>window.pond = { depth: 3 }; // pasted by somebody, long ago\n</script>
    <script>window.thisPage = 'the page that is called ${title}, only here'</script>
    <h1>${title}</h1>${links.map((link) => `<a href="${link}">${link}</a>`).join(' ')}`
  const restlessPage = (title: string) =>
    `<!doctype html><html lang="en"><title>${title} – Millpond Society</title>${RESTLESS}${Object.keys(RESTLESS_FILES)
      .map((name) => `<script src="/parts/${name}"></script>`)
      .join('')}<script src="/parts/tag-creel/creel.js"></script>`
  const pages = (): Record<string, string> => (restless ? { '/': restlessPage('Home') } : manyPages())
  const manyPages = (): Record<string, string> => ({
    '/': page('Home', [
      '/news/ice',
      '/about',
      'news/otters#top',
      '/map.pdf',
      '/?view=2',
      'http://elsewhere.localhost/',
    ]),
    '/about':
      page('About', ['/', '/sign-out', '/deep']) +
      '<form method="post" action="/ask"><label>Your question <input name="question"></label><button>Ask</button></form>',
    '/asked': '<!doctype html><title>Asked – Millpond Society</title><h1>It has arrived</h1>',
    '/deep': page('Deep', []),
    '/news/ice': page('Ice', ['/news/otters']),
    '/news/otters': page('Otters', []),
  })
  const files: Record<string, [type: string, body: string]> = {
    '/look/pond/pond.css': ['text/css', 'h1 { color: navy } .never { color: red }'],
    '/parts/heron-gallery/js/gallery.js': ['text/javascript', `${'/* herons */'.repeat(300)}\nfunction never() {}`],
    // Two add-ons' code in one file, the second one's in the second line.
    '/made/all.js': ['text/javascript', `${REEDS}\n${OTTERS}\n//# sourceMappingURL=all.js.map`],
    '/made/all.js.map': [
      'application/json',
      JSON.stringify({
        version: 3,
        sources: ['../parts/reed-slider/slider.js', '/parts/otter-tabs/tabs.js'],
        names: [],
        mappings: 'AAAA;ACAA;',
      }),
    ],
    '/parts/tag-creel/creel.js': [
      'text/javascript',
      `const tag = document.createElement('script'); tag.src = '{outside}/trail.js'; document.head.append(tag)`,
    ],
    '/trail.js': ['text/javascript', 'window.trailed = 1'],
    ...Object.fromEntries(
      Object.entries(RESTLESS_FILES).map(([name, code]) => [`/parts/${name}`, ['text/javascript', code]]),
    ),
    '/count.js': ['text/javascript', 'window.counted = 1'],
    '/pictures/mill.png': ['image/png', 'not really'],
  }
  const site: Omit<PlainSite, 'stop'> = {
    address: '',
    asked,
    hasSitemap: false,
    gate: null,
    packs: false,
    replaced: new Map(),
  }
  const server = createServer((request, response) => {
    const { pathname } = new URL(request.url!, 'http://plain.localhost')
    const isOwn = request.headers.host === new URL(address()).host
    const key = `Basic ${Buffer.from(closedTo ?? '').toString('base64')}`
    if (closedTo !== undefined && isOwn && request.headers.authorization !== key)
      return response.writeHead(401, { 'www-authenticate': 'Basic realm="A copy"' }).end()
    // What gets a key that is none of its own is no good outsider to test with.
    if (!isOwn && request.headers.authorization) return response.writeHead(400).end()
    asked.push(pathname)
    const put = site.replaced.get(pathname)
    if (Buffer.isBuffer(put))
      return response
        .writeHead(200, { 'content-type': `image/${pathname.split('.').at(-1)!.replace('jpg', 'jpeg')}` })
        .end(put)
    const [type, body] = files[pathname] ?? ['text/html; charset=utf-8', pages()[pathname]]
    if (request.method === 'POST') {
      request.resume()
      return response.writeHead(pathname === '/ask' ? 303 : 404, { location: '/asked' }).end()
    }
    if (site.hasSitemap && pathname === '/sitemap.xml')
      return response.writeHead(200, { 'content-type': 'application/xml' })
        .end(`<urlset><url><loc>${address()}/about</loc><lastmod>2026-05-04</lastmod></url>
          <url><loc>${address()}/news/ice</loc></url><url><loc>${address()}/news/otters</loc></url>
          <url><loc>http://elsewhere.localhost/stolen</loc></url></urlset>`)
    const shown = put ?? body
    if (shown === undefined) return response.writeHead(404, { 'content-type': 'text/html' }).end('<title>Lost</title>')
    const whole = shown.replace('{outside}', outside())
    const sent = site.gate && type.startsWith('text/html') ? site.gate(whole) : whole
    if (site.packs && /\bgzip\b/.test(request.headers['accept-encoding'] ?? ''))
      response.writeHead(200, { 'content-type': type, 'content-encoding': 'gzip' }).end(gzipSync(sent))
    else response.writeHead(200, { 'content-type': type }).end(sent)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return Object.assign(site, {
    address: address(),
    async stop() {
      server.closeAllConnections()
      await new Promise((resolve) => server.close(resolve))
    },
  })
}
