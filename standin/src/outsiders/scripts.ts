import { bulkScript } from '../files/bulk-code.js'
import { treePicture } from '../media/tree-picture.js'
import { send, sendFile, sendProblem, type Handler } from '../http/answer.js'

type Content = Buffer | ((address: URL) => { type: string; body: string } | { location: string })

/** An outsider that serves fixed files, after its own latency. */
function host(latencyMs: number, files: Record<string, Content>): Handler {
  return async (request, response, address) => {
    await new Promise((resolve) => setTimeout(resolve, latencyMs))
    const key = Object.hasOwn(files, address.pathname)
      ? address.pathname
      : Object.keys(files).find((k) => k.endsWith('*') && address.pathname.startsWith(k.slice(0, -1)))
    const content = key === undefined ? undefined : files[key]
    if (!content) return sendProblem(response, 404, 'Nothing here.')
    if (Buffer.isBuffer(content)) return sendFile(request, response, address.pathname, content)
    const made = content(address)
    if ('location' in made) return send(response, 302, { location: made.location, 'cache-control': 'no-store' })
    send(
      response,
      200,
      { 'content-type': made.type, 'cache-control': 'no-store', 'access-control-allow-origin': '*' },
      made.body,
    )
  }
}

const script = (name: string, code: string, bulk: number) => Buffer.from(`${code}\n${bulkScript(name, bulk)}`)
const at = (name: string, address: URL) => `http://${name}${address.port ? `:${address.port}` : ''}`
const PIXEL = () => ({ type: 'image/gif', body: 'GIF89a' })

/** Brings scripts in from four other hosts. */
const BRING = `(function () {
  var port = location.port ? ':' + location.port : '';
  ['footpath.localhost/count.js', 'adlattice.localhost/strip.js', 'hallodesk.localhost/chat.js', 'warmtrail.localhost/trail.js'].forEach(function (path) {
    var s = document.createElement('script'); s.async = true; s.src = 'http://' + path.replace('/', port + '/'); document.head.appendChild(s);
  });
})();`

const STRIP = `(function () {
  var port = location.port ? ':' + location.port : '', pixel = new Image();
  pixel.src = 'http://adlattice.localhost' + port + '/hop/1';
  var strip = document.createElement('div'); strip.className = 'ad-strip'; strip.style.cssText = 'padding:.5rem;text-align:center;background:#efe8d6';
  strip.textContent = 'Advertisement: benches for every garden'; document.body.appendChild(strip);
})();`

/** Forty milliseconds of work on the main thread, as such bubbles do while they start. */
const CHAT = `(function () {
  var until = performance.now() + 40, sum = 0; while (performance.now() < until) sum += Math.sqrt(sum + 1);
  var bubble = document.createElement('button'); bubble.textContent = 'Chat'; bubble.style.cssText = 'position:fixed;right:1rem;bottom:1rem;padding:.75rem 1.25rem;border-radius:2rem;border:0;background:#b5762a;color:#fff';
  document.body.appendChild(bubble);
})();`

const COUNT = `(function () {
  var port = location.port ? ':' + location.port : '';
  fetch('http://footpath.localhost' + port + '/visit?p=' + encodeURIComponent(location.pathname), { keepalive: true });
})();`

const WALL = `(function () {
  var port = location.port ? ':' + location.port : '', box = document.querySelector('.wall');
  for (var n = 1; n <= 8; n++) { var picture = new Image(); picture.alt = ''; picture.style.width = '24%'; picture.src = 'http://treegram.localhost' + port + '/large/' + n + '.svg'; box.appendChild(picture); }
  box.addEventListener('click', function () { var part = document.createElement('script'); part.src = 'http://treegram.localhost' + port + '/enlarge.js'; document.body.append(part); }, { once: true });
})();`

/** Shows one picture of the wall large; wanted only when somebody presses one. */
const ENLARGE = `document.querySelectorAll('.wall img').forEach(function (picture) { picture.onclick = function () { picture.style.width = '100%'; }; });`

/** The weather in the foot of the page. */
const WIND = `(function () {
  var line = document.createElement('p'); line.className = 'wind'; line.textContent = 'Wind at the gatehouse: light, from the west.';
  var foot = document.querySelector('footer div'); if (foot) foot.append(line);
})();`

const REPORT = `document.querySelectorAll('.sky-report').forEach(function (p) { p.textContent = 'Dry until evening, then showers from the moor.'; });`

const ENDLESS_MOST_MS = 120_000

/** Answers with a text that never ends: a line every fifth of a second, until the visitor hangs up. */
const endless: Handler = (request, response) => {
  response.writeHead(200, {
    'content-type': 'text/plain; charset=utf-8',
    'cache-control': 'no-store',
    'access-control-allow-origin': '*',
  })
  const more = setInterval(() => response.write(`${'and on '.repeat(20)}\n`), 200)
  const stop = () => {
    clearInterval(more)
    clearTimeout(longest)
    response.end()
  }
  const longest = setTimeout(stop, ENDLESS_MOST_MS)
  response.once('close', stop)
}

let visits = 0

/** How many visits the statistics tag has counted since the start. */
export const countedVisits = () => visits

const FRAME = (address: URL) => ({
  type: 'text/html; charset=utf-8',
  body: `<!doctype html><title>Film</title><body style="margin:0;background:#222;color:#fff"><p>${address.pathname
    .split('/')
    .at(-1)!
    .replace(/[^a-z-]/g, '')}</p><script src="/player.js"></script>`,
})

/** A picture as heavy as one from a camera: the same landscape drawn many times over. */
const largePicture = (seed: number) => {
  const picture = treePicture(seed, 1600, 1200)
  const inner = picture.slice(picture.indexOf('<path'), picture.lastIndexOf('</svg>'))
  return Buffer.from(picture.replace('</svg>', `${inner.repeat(40)}</svg>`))
}

export const SCRIPT_HOSTS: Record<string, Handler> = {
  'proofgate.localhost': host(45, {
    '/challenge.js': script('proofgate', `window.proofgate = { ready: true };`, 52_000),
  }),
  'tilecart.localhost': host(
    30,
    Object.fromEntries(
      Array.from({ length: 12 }, (_, n) => [`/t/${n}.svg`, Buffer.from(treePicture(200 + n, 320, 240))]),
    ),
  ),
  'tagbasket.localhost': host(40, { '/basket.js': script('tagbasket', BRING, 38_000) }),
  'footpath.localhost': host(20, {
    '/count.js': script('footpath', COUNT, 21_000),
    '/visit': () => {
      visits += 1
      return { type: 'text/plain', body: '' }
    },
  }),
  'adlattice.localhost': host(35, {
    '/strip.js': script('adlattice', STRIP, 44_000),
    '/hop/1': (address) => ({ location: `${at('adlattice.localhost', address)}/hop/2` }),
    '/hop/2': (address) => ({ location: `${at('warmtrail.localhost', address)}/pixel.gif` }),
  }),
  'hallodesk.localhost': host(60, { '/chat.js': script('hallodesk', CHAT, 96_000) }),
  'warmtrail.localhost': host(25, {
    '/trail.js': script('warmtrail', `window.warmtrail = { seen: Date.now() };`, 17_000),
    '/pixel.gif': PIXEL,
  }),
  'treegram.localhost': host(50, {
    '/wall.js': script('treegram', WALL, 29_000),
    '/enlarge.js': script('treegram-enlarge', ENLARGE, 52_000),
    ...Object.fromEntries(Array.from({ length: 8 }, (_, n) => [`/large/${n + 1}.svg`, largePicture(300 + n)])),
  }),
  'reelhouse.localhost': host(55, {
    '/frame/*': FRAME,
    '/player.js': script('reelhouse', `window.player = true;`, 128_000),
  }),
  'oldgadget.localhost': host(90, { '/gadget.js': script('oldgadget', `window.gadget = 'still here';`, 33_000) }),
  'manyfaces.localhost': host(8, {
    '/face/*': () => ({
      type: 'image/svg+xml',
      body: '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 32 32"><rect width="32" height="32" fill="#c9d3b4"/><circle cx="16" cy="12" r="6" fill="#5d7b4b"/><path d="M4 32a12 10 0 0 1 24 0z" fill="#5d7b4b"/></svg>',
    }),
  }),
  'plumeline.localhost': host(30, {
    '/figures.js': script('plumeline', `window.plumeline = { page: location.pathname };`, 26_000),
  }),
  'gale.localhost': host(45, { '/wind.js': script('gale', WIND, 34_000) }),
  'molasses.localhost': host(4_000, { '/report.js': script('molasses', REPORT, 12_000) }),
  'gonehost.localhost': (request) => void request.socket.destroy(),
  'brook.localhost': endless,
  'gaugehouse.localhost': host(140, { '/level': () => ({ type: 'text/plain', body: '182' }) }),
}
