import { randomUUID } from 'node:crypto'
import type { NextFunction, Request, Response } from 'express'
import { log, logWithin } from './log.js'

/** Gives every request an id, which its answer and all log lines about it carry, and writes down how it ended. */
export function requestLog(request: Request, response: Response, next: NextFunction): void {
  const id = randomUUID()
  const began = performance.now()
  response.setHeader('x-request-id', id)
  logWithin({ request: id }, () => {
    response.once('close', () =>
      log.debug(
        {
          method: request.method,
          path: request.path,
          status: response.statusCode,
          ms: Math.round(performance.now() - began),
        },
        'answered',
      ),
    )
    next()
  })
}
