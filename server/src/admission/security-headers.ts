import helmet from 'helmet'
import type { NextFunction, Request, RequestHandler, Response } from 'express'

const SELF = "'self'"

// Headers are not packed, and go with each file: what is no document says only what counts for it.
const OF_ALL = {
  // Whether a name is to be reached over TLS only is for whoever puts TLS in front to say.
  strictTransportSecurity: false,
  referrerPolicy: { policy: 'no-referrer' },
  crossOriginResourcePolicy: { policy: 'same-origin' },
  xXssProtection: false,
  xDownloadOptions: false,
  xPermittedCrossDomainPolicies: false,
} as const

/** What a browser may do with the interface: run its own scripts, and nothing that a measured site managed to slip in. */
const forDocuments = (previews: () => string | null): RequestHandler =>
  helmet({
    ...OF_ALL,
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: [SELF],
        // Menus and dialogs set styles of their own while they are open.
        styleSrc: [SELF, "'unsafe-inline'"],
        imgSrc: [SELF, 'data:', 'blob:'],
        fontSrc: [SELF, 'data:'],
        connectSrc: [SELF],
        workerSrc: [SELF],
        manifestSrc: [SELF],
        baseUri: ["'none'"],
        formAction: [SELF],
        frameSrc: [() => previews() ?? "'none'"],
        frameAncestors: ["'none'"],
        objectSrc: ["'none'"],
      },
    },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    frameguard: { action: 'deny' },
  })

/** An answer of the API is data: opened by itself, it runs, loads and shows nothing, whatever stands in it. */
const forData: RequestHandler = helmet({
  ...OF_ALL,
  contentSecurityPolicy: {
    useDefaults: false,
    directives: { defaultSrc: ["'none'"], frameAncestors: ["'none'"] },
  },
  crossOriginOpenerPolicy: false,
  originAgentCluster: false,
  xDnsPrefetchControl: false,
  frameguard: false,
})

/** Its own scripts, styles and typefaces, as they were built. */
const forAssets: RequestHandler = helmet({
  ...OF_ALL,
  contentSecurityPolicy: false,
  crossOriginOpenerPolicy: false,
  originAgentCluster: false,
  xDnsPrefetchControl: false,
  frameguard: false,
  referrerPolicy: false,
})

/** @param previews Where previews are, which the interface shows in a frame. */
export function securityHeaders(previews: () => string | null = () => null): RequestHandler[] {
  const documents = forDocuments(previews)
  const secure: RequestHandler = (request, response, next) => {
    const kind = /^\/assets\//.test(request.path) ? forAssets : IS_DATA.test(request.path) ? forData : documents
    kind(request, response, next)
  }
  return [secure, sayHowLong]
}

const IS_DATA = /^\/(api|v1)\//

function sayHowLong(request: Request, response: Response, next: NextFunction): void {
  // Answers of the API are asked about each time, and sent anew only where their ETag is another one.
  const isRead = /^\/api\//.test(request.path) && (request.method === 'GET' || request.method === 'HEAD')
  if (isRead) response.setHeader('cache-control', 'private, no-cache')
  else if (IS_DATA.test(request.path)) response.setHeader('cache-control', 'no-store')
  next()
}
