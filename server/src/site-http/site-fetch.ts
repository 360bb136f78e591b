import { Agent, buildConnector, fetch, Headers, type Dispatcher, type RequestInit, type Response } from 'undici'
import type { TLSSocket } from 'node:tls'
import { accessFor } from './site-access.js'
import { checkLiteral, lookupWithin, OutOfReach, type Reach } from '../reach/reach.js'
import { fingerprintOf, isPinned, OtherCertificate } from './certificate.js'
import { mappedAddress } from './mapped-address.js'
import { wayTo } from './site-way.js'

const agentFor = (reach: Reach): Dispatcher =>
  new Agent({ connect: connectorFor(reach), headersTimeout: 60_000, bodyTimeout: 60_000 })

/** Takes what browsers take; of a site that shows a certificate of its own making, that one and no other. */
function connectorFor(reach: Reach): buildConnector.connector {
  const options = { lookup: lookupWithin(reach, mappedAddress), timeout: 10_000 }
  const asBrowsers = buildConnector(options)
  // A session that is taken up again shows no certificate.
  const whoever = buildConnector({ ...options, rejectUnauthorized: false, maxCachedSessions: 0 })
  return (wish, done) => {
    if (wish.protocol !== 'https:') return asBrowsers(wish, done)
    wayTo(wish.host ?? wish.hostname).then(
      (way) => {
        const pinned = way?.certificate
        if (!pinned) return asBrowsers(wish, done)
        whoever(wish, (...[error, socket]) => {
          if (error) return done(error, null)
          const safe = socket as TLSSocket
          if (isPinned(safe, pinned)) return done(null, socket)
          const other = new OtherCertificate(wish.hostname, fingerprintOf(safe))
          safe.destroy()
          done(other, null)
        })
      },
      (error: Error) => done(error, null),
    )
  }
}

const agents: Record<Reach, Dispatcher> = { public: agentFor('public'), anywhere: agentFor('anywhere') }

export const agentOf = (reach: Reach): Dispatcher => agents[reach]

/**
 * Every request that the server itself makes to a measured site goes through here, and reaches no more than the site may.
 * Redirects are not followed: whoever follows one comes through here again.
 */
export async function siteFetch(
  url: string | URL,
  { reach, ...init }: RequestInit & { reach: Reach },
): Promise<Response> {
  // A literal address is never looked up, so it is looked at here.
  const { host, hostname } = new URL(url)
  checkLiteral(hostname, reach)
  const headers = new Headers(init.headers)
  for (const [name, value] of Object.entries(await accessFor(host))) if (!headers.has(name)) headers.set(name, value)
  return fetch(url, {
    ...init,
    headers,
    redirect: 'manual',
    dispatcher: agents[reach],
    signal: init.signal ?? AbortSignal.timeout(90_000),
  })
}

/** Reads a body as text up to a number of bytes. @throws Error beyond them. */
export const boundedText = async (response: Response, mostBytes: number): Promise<string> =>
  (await boundedBytes(response, mostBytes)).toString('utf8')

/** Reads a body up to a number of bytes. @throws Error beyond them. */
export async function boundedBytes(response: Response, mostBytes: number): Promise<Buffer> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of response.body ?? []) {
    size += chunk.length
    if (size > mostBytes) throw new Error(`The answer is larger than ${Math.round(mostBytes / 1e6)} MB.`)
    chunks.push(chunk)
  }
  return Buffer.concat(chunks)
}

/** Whether a host was not asked because of the certificate that it shows. */
export function isOfCertificate(error: unknown): boolean {
  const cause = (error as { cause?: unknown }).cause ?? error
  return cause instanceof OtherCertificate || /CERT|SSL|TLS/.test((cause as { code?: string }).code ?? '')
}

/** Why a request got no answer, as a plain sentence. */
export function whyUnreachable(error: unknown, host: string): string {
  const cause = (error as { cause?: unknown }).cause ?? error
  if (cause instanceof OutOfReach || cause instanceof OtherCertificate) return `${cause.message}.`
  const code = (cause as { code?: string }).code ?? ''
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN')
    return `The name ${host.replace(/:\d+$/, '')} does not resolve to any address.`
  if (code === 'ECONNREFUSED') return `Nothing answers at ${host}: the connection was refused.`
  if (code === 'ECONNRESET' || code === 'UND_ERR_SOCKET') return `${host} closed the connection without an answer.`
  if (/TIMEOUT/i.test(code) || (error as Error).name === 'TimeoutError') return `${host} did not answer in time.`
  if (isOfCertificate(error)) return `The certificate of ${host} is not valid (${code}).`
  if ((cause as Error).message === 'bad port') return `The port of ${host} is one that browsers refuse.`
  return `${host} can’t be reached: ${(cause as Error).message}`
}
