import { rateLimit } from 'express-rate-limit'
import type { NextFunction, Request, RequestHandler, Response } from 'express'

const MINUTE_MS = 60_000

/** What costs this machine or somebody else's a good deal, with how often one caller may ask for it in a minute. */
const COSTLY: { method: string; path: RegExp; timesAMinute: number }[] = [
  // Somebody else's password is tried.
  { method: 'POST', path: /\/lenses\/sign-in-(form|trial)$/, timesAMinute: 30 },
  { method: 'POST', path: /^\/api\/sites\/?$/, timesAMinute: 60 },
  { method: 'POST', path: /\/(refresh|har|access-log|page-views|sitemap)$/, timesAMinute: 60 },
  { method: 'POST', path: /\/rules\/(put-live|take-back\/\d+|adopt|restore)$/, timesAMinute: 60 },
  { method: 'POST', path: /\/(sweeps|reread|server-readings|without|actions)$/, timesAMinute: 120 },
]

/** Refuses what is asked for too often, so that nobody can keep a site or this machine busy by asking. */
export function costlyCalls(): RequestHandler {
  const limits = COSTLY.map(({ method, path, timesAMinute }) => ({
    method,
    path,
    limit: rateLimit({
      windowMs: MINUTE_MS,
      limit: timesAMinute,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      handler: (_request: Request, response: Response) =>
        void response
          .status(429)
          .type('application/problem+json')
          .send(
            JSON.stringify({
              type: 'about:blank',
              status: 429,
              title: 'That was asked for too often. Please wait a minute.',
            }),
          ),
    }),
  }))
  return (request: Request, response: Response, next: NextFunction) => {
    const costly = limits.find(({ method, path }) => method === request.method && path.test(request.path))
    return costly ? void costly.limit(request, response, next) : next()
  }
}
