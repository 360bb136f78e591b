import type { RequestHandler } from 'express'
import sirv from 'sirv'

/** The server's own addresses; whatever else has no dot in its last part is a place of the interface. */
const NOT_PLACES = [/^\/(api|v1|metrics)(\/|$)/, /\.[a-z0-9]+$/i]

/**
 * The built interface: files in the packing that the browser takes (the build has made them), named files for ever, since their
 * names have a hash of what is in them; for every place the one page.
 */
export function serveWeb(folder: string): RequestHandler {
  const files = sirv(folder, {
    etag: true,
    gzip: true,
    brotli: true,
    single: true,
    ignores: NOT_PLACES,
    setHeaders: (response, path) =>
      response.setHeader(
        'cache-control',
        path.startsWith('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache',
      ),
  })
  return (request, response, next) =>
    request.method === 'GET' || request.method === 'HEAD' ? files(request, response, next) : next()
}
