import { lookup as systemLookup } from 'node:dns'
import type { LookupFunction } from 'node:net'
import { Agent, fetch, type RequestInit, type Response } from 'undici'

/** `*.localhost` is loopback (RFC 6761), whatever the resolver of this machine thinks of it. */
const lookup: LookupFunction = (host, options, answer) => {
  if (host !== 'localhost' && !host.endsWith('.localhost')) return systemLookup(host, options, answer)
  if (options.all) answer(null, [{ address: '127.0.0.1', family: 4 }])
  else answer(null, '127.0.0.1', 4)
}

const agent = new Agent({ connect: { lookup, timeout: 10_000 }, headersTimeout: 60_000, bodyTimeout: 60_000 })

/** Every request that the server itself makes to a measured site goes through here. */
export function siteFetch(url: string | URL, init: RequestInit = {}): Promise<Response> {
  return fetch(url, {
    redirect: 'manual',
    ...init,
    dispatcher: agent,
    signal: init.signal ?? AbortSignal.timeout(90_000),
  })
}

/** Reads a body as text up to a number of bytes. @throws Error beyond them. */
export async function boundedText(response: Response, mostBytes: number): Promise<string> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of response.body ?? []) {
    size += chunk.length
    if (size > mostBytes) throw new Error(`The answer is larger than ${Math.round(mostBytes / 1e6)} MB.`)
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}

/** Why a request got no answer, as a plain sentence. */
export function whyUnreachable(error: unknown, host: string): string {
  const cause = (error as { cause?: unknown }).cause ?? error
  const code = (cause as { code?: string }).code ?? ''
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN') return `The name ${host} does not resolve to any address.`
  if (code === 'ECONNREFUSED') return `Nothing answers at ${host}: the connection was refused.`
  if (code === 'ECONNRESET' || code === 'UND_ERR_SOCKET') return `${host} closed the connection without an answer.`
  if (/TIMEOUT/i.test(code) || (error as Error).name === 'TimeoutError') return `${host} did not answer in time.`
  if (/CERT|SSL|TLS/.test(code)) return `The certificate of ${host} is not valid (${code}).`
  if ((cause as Error).message === 'bad port') return `The port of ${host} is one that browsers refuse.`
  return `${host} can’t be reached: ${(cause as Error).message}`
}
