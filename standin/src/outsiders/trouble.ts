import { createGzip } from 'node:zlib'
import type { ServerResponse } from 'node:http'
import { send, sendProblem, type Handler } from '../http/answer.js'
import { SOUND, soundPage, TROUBLED_ANSWERS, TROUBLED_PAGES } from './more-trouble.js'

const MEGABYTE = Buffer.alloc(1 << 20, 32)
const page = (body: string) => `<!doctype html><title>Trouble</title><p>Trouble</p>${body}`

const MEGABYTE_EVERY_MS = 15

/** Writes as many megabytes as wanted, as fast as a good line would, and no faster than they are taken. */
function pour(target: NodeJS.WritableStream, megabytes: number): void {
  let left = megabytes
  const more = () => {
    if (left-- <= 0) return void target.end()
    const next = () => void setTimeout(more, MEGABYTE_EVERY_MS)
    if (target.write(MEGABYTE)) next()
    else target.once('drain', next)
  }
  more()
}

function large(response: ServerResponse, type: string, megabytes: number): void {
  response.writeHead(200, { 'content-type': type })
  pour(response, megabytes)
}

const PAGES: Record<string, string> = {
  '/dialogs': page(
    '<script>alert(1); confirm(2); prompt(3); onbeforeunload = function (e) { e.preventDefault() }</script>',
  ),
  '/popups': page('<script>for (var i = 0; i < 20; i++) open("/blank?" + i)</script>'),
  '/spins': page('<script>setTimeout(function () { while (true); }, 200)</script>'),
  '/spins-at-once': page('<script>while (true);</script>'),
  '/leaves': page('<script>location.href = "/blank"</script>'),
  '/many': page('<script>for (var i = 0; i < 100000; i++) fetch("/blank?" + i).catch(function () {})</script>'),
  '/half-a-gigabyte': page('<script>fetch("/large").then(function (r) { return r.blob() })</script>'),
  '/half-a-gigabyte-of-script': page('<script src="/large.js"></script>'),
  '/bomb': page('<script src="/bomb.js"></script>'),
  '/blank': page(''),
  '/latin': page('<p>caf\xe9</p>'),
}

const OF_THE_WIRE = ['/endless', '/loop', '/download', '/short', '/large-page']
const NO_PAGES = new Set(['/storm.css', '/imports.css', '/flood-worker.js', '/events'])

/** Every page of the host, those that are well in between. */
export function troublePaths(): string[] {
  const trouble = [
    ...Object.keys(PAGES),
    ...OF_THE_WIRE,
    ...Object.keys(TROUBLED_PAGES),
    ...Object.keys(TROUBLED_ANSWERS),
  ]
  const every = Math.ceil(trouble.length / SOUND.length)
  return trouble
    .filter((path) => !NO_PAGES.has(path))
    .flatMap((path, n) => (n % every === 0 ? [SOUND[n / every]!, path] : [path]))
}

/** A host on which everything goes wrong: each page is one thing that a hostile or broken site may do to a browser. */
export const trouble: Handler = (request, response, { pathname }) => {
  const html = PAGES[pathname]
  if (html !== undefined)
    return send(response, 200, { 'content-type': 'text/html; charset=utf-8' }, Buffer.from(html, 'latin1'))
  const more = TROUBLED_PAGES[pathname]?.() ?? soundPage(pathname)
  if (more != null)
    return send(response, 200, { 'content-type': 'text/html; charset=utf-8' }, Buffer.from(more, 'latin1'))
  const answer = TROUBLED_ANSWERS[pathname]
  if (answer) return answer(request, response)
  switch (pathname) {
    case '/':
      return send(response, 200, { 'content-type': 'text/html' }, page('<a href="/blank">blank</a>'))
    case '/sitemap.xml': {
      const locs = troublePaths().map((path) => `<url><loc>http://${request.headers.host}${path}</loc></url>`)
      return send(response, 200, { 'content-type': 'application/xml' }, `<urlset>${locs.join('')}</urlset>`)
    }
    case '/endless': {
      response.writeHead(200, { 'content-type': 'text/html' })
      const more = setInterval(() => response.write('<p>and on'), 200)
      response.once('close', () => clearInterval(more))
      return
    }
    case '/loop':
      return send(response, 302, { location: '/loop' })
    case '/download':
      return send(response, 200, { 'content-type': 'application/zip', 'content-disposition': 'attachment' }, 'PK')
    case '/short':
      response.writeHead(200, { 'content-type': 'text/html', 'content-length': '100000' })
      response.write(page(''))
      return void setTimeout(() => response.destroy(), 100)
    case '/large':
      return large(response, 'application/octet-stream', 500)
    case '/large.js':
      return large(response, 'text/javascript', 500)
    case '/large-page':
      return large(response, 'text/html', 500)
    case '/bomb.js': {
      response.writeHead(200, { 'content-type': 'text/javascript', 'content-encoding': 'gzip' })
      const gzip = createGzip()
      gzip.pipe(response)
      return pour(gzip, 2_000)
    }
    default:
      return sendProblem(response, 404, 'Nothing here.')
  }
}
