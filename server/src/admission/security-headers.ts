import helmet from 'helmet'
import type { NextFunction, Request, RequestHandler, Response } from 'express'

const SELF = "'self'"

/** What a browser may do with the interface: run its own scripts, and nothing that a measured site managed to slip in. */
/** @param previews Where previews are, which the interface shows in a frame. */
export const securityHeaders = (previews: () => string | null = () => null): RequestHandler[] => [
  helmet({
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
    referrerPolicy: { policy: 'no-referrer' },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginResourcePolicy: { policy: 'same-origin' },
    frameguard: { action: 'deny' },
    // Whether a name is to be reached over TLS only is for whoever puts TLS in front to say.
    strictTransportSecurity: false,
  }),
  (request: Request, response: Response, next: NextFunction) => {
    if (/^\/(api|v1)\//.test(request.path)) response.setHeader('cache-control', 'no-store')
    next()
  },
]
