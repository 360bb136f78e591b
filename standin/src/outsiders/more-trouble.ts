import type { IncomingMessage, ServerResponse } from 'node:http'
import { send } from '../http/answer.js'

const page = (body: string, title = 'Trouble') => `<!doctype html><title>${title}</title><p>Trouble</p>${body}`
const script = (code: string) => page(`<script>${code}</script>`)
const forever = (code: string) => script(`setInterval(function () { ${code} }, 1)`)

/** What only takes the right HTML: each is one thing that a page may do to whoever reads it. */
export const TROUBLED_PAGES: Record<string, () => string> = {
  // What is hardly a page at all.
  '/tiny': () => 'x',
  '/empty': () => '',
  '/bytes': () => String.fromCharCode(...Array.from({ length: 4_000 }, (_, n) => (n * 37) % 256)),
  // Large in one way or another.
  '/deep': () => page('<div>'.repeat(100_000)),
  '/attributes': () => page(`<p ${Array.from({ length: 50_000 }, (_, n) => `a${n}="x"`).join(' ')}>`),
  '/long-attribute': () => page(`<p title="${'&amp;'.repeat(400_000)}">`),
  '/elements': () => page('<b></b>'.repeat(300_000)),
  '/style-storm': () => page('<link rel="stylesheet" href="/storm.css">'),
  '/inline-style-storm': () => page(`<style>${rules(60_000)}</style>`),
  '/style-imports': () => page('<style>@import "/imports.css?0";</style>'),
  '/script-tags': () => page('<script src="/nothing.js"></script>'.repeat(3_000)),
  '/data-urls': () => page('<img src="data:image/gif;base64,R0lGODlhAQABAAAAACw=">'.repeat(30_000)),
  '/long-address': () => script(`new Image().src = '/x?' + 'y'.repeat(1e6)`),
  '/canvas': () => script(`var c = document.createElement('canvas'); c.width = c.height = 3e4; c.getContext('2d')`),
  '/memory': () => script(`var all = []; setInterval(function () { all.push(new Array(4e6).fill(all.length)) }, 1)`),
  // Busy without end.
  '/timers': () =>
    script(`for (var i = 0; i < 1e4; i++) setInterval(function () { document.title = Math.random() }, 1)`),
  '/frames-drawn': () =>
    script(`(function on() { for (var i = 0; i < 1e5; i++) Math.sqrt(i); requestAnimationFrame(on) })()`),
  '/mutations': () =>
    script(`new MutationObserver(function () { document.body.append('x') }).observe(document, { childList: true, subtree: true });
      setTimeout(function () { document.body.append('x') }, 50)`),
  '/endless-scroll': () =>
    page(`<script>onscroll = function () { document.body.append(document.createElement('p')); document.body.lastChild.style.height = '2000px' }</script>
    <p style="height:3000px">`),
  '/workers': () =>
    script(
      `for (var i = 0; i < 40; i++) new Worker(URL.createObjectURL(new Blob(['setInterval(function () { for (var n = 0; n < 1e6; n++); }, 1)'])))`,
    ),
  '/worker-requests': () =>
    script(
      `new Worker(URL.createObjectURL(new Blob(['setInterval(function () { fetch("${'/blank'}?" + Math.random()) }, 1)'])))`,
    ),
  '/service-worker': () => script(`navigator.serviceWorker.register('/flood-worker.js').catch(function () {})`),
  '/sockets': () => script(`for (var i = 0; i < 200; i++) new WebSocket('ws://' + location.host + '/blank?' + i)`),
  '/event-stream': () => script(`new EventSource('/events')`),
  '/beacons': () => forever(`navigator.sendBeacon('/blank', 'x')`),
  '/unload': () =>
    script(`onpagehide = onbeforeunload = function () { for (var t = Date.now() + 1e4; Date.now() < t;); }`),
  // Windows, frames and ways out.
  '/frame-of-itself': () =>
    page('<iframe src="/frame-of-itself?1"></iframe><iframe src="/frame-of-itself?2"></iframe>'),
  '/frames': () => page('<iframe src="/blank"></iframe>'.repeat(400)),
  '/windows': () => forever(`open('/windows?' + Math.random())`),
  '/print': () => script('print(); print()'),
  '/downloads': () =>
    script(
      `for (var i = 0; i < 50; i++) { var a = document.createElement('a'); a.href = '/download?' + i; a.download = 'x'; a.click() }`,
    ),
  '/other-scheme': () => script(`location = 'mailto:nobody@example.test'; location = 'intent://x'`),
  '/refresh': () =>
    `<!doctype html><title>Trouble</title><meta http-equiv="refresh" content="0;url=/refresh?${Date.now()}">`,
  '/history': () =>
    script(`for (var i = 0; i < 1e5; i++) try { history.pushState(i, '', '?' + i) } catch (e) { break }`),
  '/hashes': () => forever(`location.hash = Math.random()`),
  '/leads-away': () => script(`location = 'http://127.0.0.1:1/'`),
  '/stranger': () => script(`location = 'http://stranger.localhost:' + location.port + '/'`),
  '/closed-addresses': () =>
    page(
      [
        'http://169.254.169.254/latest',
        'http://127.0.0.1:5432/',
        'http://[::1]:4600/api/sites',
        'http://0.0.0.0:4600/',
        'http://10.0.0.1/',
      ]
        .map((src) => `<img src="${src}">`)
        .join(''),
    ),
  '/asks': () =>
    script(`Notification.requestPermission(); navigator.geolocation.getCurrentPosition(function () {});
      navigator.mediaDevices && navigator.mediaDevices.getUserMedia({ audio: true }).catch(function () {}); document.documentElement.requestFullscreen().catch(function () {})`),
  // Lies about what it is asked.
  '/title': () =>
    page(
      '<form name="title"></form><script>Object.defineProperty(document, "title", { get: function () { return {} } })</script>',
    ),
  '/prototypes': () =>
    script(`Array.prototype.map = Array.prototype.filter = JSON.stringify = function () { throw new Error('no') };
      performance.now = function () { return NaN }; performance.getEntriesByType = function () { return [{ responseStart: 'x', loadEventEnd: -1e300 }] };
      PerformanceObserver = function () { throw 1 }; document.querySelector = function () { while (true); }`),
  '/complaints': () => script(`for (var i = 0; i < 1e5; i++) console.error('x'.repeat(1e3) + i)`),
  '/errors': () => forever(`Promise.reject(new Error('no')); throw new Error('x'.repeat(1e4))`),
}

const rules = (count: number) =>
  Array.from({ length: count }, (_, n) => `.c${n}:not(.d${n})>e{color:#${n % 1000}}`).join('')

/** What takes more than HTML: answers that are broken on their way. */
export const TROUBLED_ANSWERS: Record<string, (request: IncomingMessage, response: ServerResponse) => void> = {
  '/storm.css': (_, response) => send(response, 200, { 'content-type': 'text/css' }, rules(200_000)),
  '/imports.css': ({ url }, response) => {
    const n = Number(url!.split('?')[1]) || 0
    send(response, 200, { 'content-type': 'text/css' }, `@import "/imports.css?${n + 1}"; p { color: red }`)
  },
  '/flood-worker.js': (_, response) =>
    send(
      response,
      200,
      { 'content-type': 'text/javascript' },
      `setInterval(function () { fetch('/blank?' + Math.random()) }, 1)`,
    ),
  '/events': (_, response) => {
    response.writeHead(200, { 'content-type': 'text/event-stream' })
    const more = setInterval(() => response.write('data: x\n\n'), 50)
    response.once('close', () => clearInterval(more))
  },
  '/drip': (_, response) => {
    response.writeHead(200, { 'content-type': 'text/html' })
    const more = setInterval(() => response.write(' '), 900)
    response.once('close', () => clearInterval(more))
  },
  '/sign-in': (_, response) => send(response, 401, { 'www-authenticate': 'Basic realm="Trouble"' }, 'no'),
  '/headers': (_, response) => {
    const many = Object.fromEntries(Array.from({ length: 400 }, (_, n) => [`x-trouble-${n}`, 'y'.repeat(100)]))
    send(response, 200, { 'content-type': 'text/html', ...many }, page(''))
  },
  '/cookies': (_, response) => {
    response.setHeader(
      'set-cookie',
      Array.from({ length: 300 }, (_, n) => `c${n}=${'x'.repeat(200)}`),
    )
    send(response, 200, { 'content-type': 'text/html' }, page(''))
  },
  '/packed-wrongly': (_, response) =>
    send(response, 200, { 'content-type': 'text/html', 'content-encoding': 'br' }, 'this is not packed'),
  '/no-http': (_, response) => {
    response.socket?.end('\0\0 what\r\n\r\n')
  },
  '/hangs-up': (_, response) => void response.destroy(),
  '/other-charset': (_, response) =>
    send(response, 200, { 'content-type': 'text/html; charset=utf-16le' }, Buffer.from(page('ok'), 'utf16le')),
}

/** Pages among them that are well, so that what becomes of the neighbours can be seen. */
export const SOUND = Array.from({ length: 8 }, (_, n) => `/sound-${n}`)
export const soundPage = (path: string): string | null =>
  SOUND.includes(path) ? page('', `Sound${path.slice(6)}`) : null
