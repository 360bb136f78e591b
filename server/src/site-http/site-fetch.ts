import { Agent, fetch, Headers, type Dispatcher, type RequestInit, type Response } from 'undici'
import { accessFor } from './site-access.js'
import { checkLiteral, lookupWithin, OutOfReach, type Reach } from '../reach/reach.js'

const agentFor = (reach: Reach): Dispatcher =>
  new Agent({ connect: { lookup: lookupWithin(reach), timeout: 10_000 }, headersTimeout: 60_000, bodyTimeout: 60_000 })

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

/** Why a request got no answer, as a plain sentence. */
export function whyUnreachable(error: unknown, host: string): string {
  const cause = (error as { cause?: unknown }).cause ?? error
  if (cause instanceof OutOfReach) return `${cause.message}.`
  const code = (cause as { code?: string }).code ?? ''
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN') return `The name ${host} does not resolve to any address.`
  if (code === 'ECONNREFUSED') return `Nothing answers at ${host}: the connection was refused.`
  if (code === 'ECONNRESET' || code === 'UND_ERR_SOCKET') return `${host} closed the connection without an answer.`
  if (/TIMEOUT/i.test(code) || (error as Error).name === 'TimeoutError') return `${host} did not answer in time.`
  if (/CERT|SSL|TLS/.test(code)) return `The certificate of ${host} is not valid (${code}).`
  if ((cause as Error).message === 'bad port') return `The port of ${host} is one that browsers refuse.`
  return `${host} can’t be reached: ${(cause as Error).message}`
}
