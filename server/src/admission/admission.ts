import type { NextFunction, Request, RequestHandler, Response } from 'express'
import { isKnownHost } from './known-hosts.js'

interface Refusal {
  status: number
  title: string
}

/**
 * The one door that every request comes through, event streams and files among them, before anything else looks at it. Who
 * may come in is asked here: for which host, from which page, and some day as whom.
 */
export function admission(hosts: readonly string[]): RequestHandler {
  return (request: Request, response: Response, next: NextFunction) => {
    const refusal = forWhichHost(request, hosts) ?? fromWhichPage(request)
    if (!refusal) return next()
    response
      .status(refusal.status)
      .type('application/problem+json')
      .send(JSON.stringify({ type: 'about:blank', ...refusal }))
  }
}

function forWhichHost({ headers: { host } }: Request, hosts: readonly string[]): Refusal | null {
  if (isKnownHost(host, hosts)) return null
  const named = (host ?? '').slice(0, 100) || 'no host at all'
  return { status: 421, title: `Unvelt does not answer for ${named}. If that is its name, list it in UNVELT_HOSTS.` }
}

/** A page of a measured site must not be able to press Unvelt's buttons from the maintainer's own browser. */
function fromWhichPage({ method, headers: { origin, host } }: Request): Refusal | null {
  const safe = method === 'GET' || method === 'HEAD'
  if (safe || origin === undefined || (URL.canParse(origin) && new URL(origin).host === host)) return null
  return { status: 403, title: 'Requests from other sites are refused.' }
}
