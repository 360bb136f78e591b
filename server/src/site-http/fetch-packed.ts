import { promisify } from 'node:util'
import { brotliDecompress, gunzip, inflate } from 'node:zlib'
import { request } from 'undici'
import { checkLiteral, type Reach } from '../reach/reach.js'
import { accessFor } from './site-access.js'
import { agentOf } from './site-fetch.js'

/** An answer as it came over the wire, and unpacked. */
export interface PackedAnswer {
  status: number
  contentType: string
  cacheControl: string | null
  encoding: string
  wire: Buffer
  plain: Buffer
}

const UNPACK: Record<string, (body: Buffer, options: { maxOutputLength: number }) => Promise<Buffer>> = {
  '': (body) => Promise.resolve(body),
  gzip: promisify(gunzip),
  deflate: promisify(inflate),
  br: promisify(brotliDecompress),
}
const MOST_MS = 20_000

/**
 * A file as a browser gets it, packed as the server packs it. Redirects are not followed.
 * @throws Error where it is larger than that many bytes, packed or not, or packed in a way that was not asked for.
 */
export async function fetchPacked(url: URL, reach: Reach, mostBytes: number): Promise<PackedAnswer> {
  checkLiteral(url.hostname, reach)
  const { statusCode, headers, body } = await request(url, {
    dispatcher: agentOf(reach),
    headers: { 'accept-encoding': 'gzip, deflate, br', accept: '*/*', ...(await accessFor(url.host)) },
    signal: AbortSignal.timeout(MOST_MS),
  })
  const one = (name: string) => [headers[name] ?? ''].flat().join(', ')
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of body as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > mostBytes) throw new Error(`It is larger than ${Math.round(mostBytes / 1e6)} MB.`)
    chunks.push(chunk)
  }
  const wire = Buffer.concat(chunks)
  const encoding = one('content-encoding').trim().toLowerCase().replace('x-gzip', 'gzip').replace('identity', '')
  const unpack = Object.hasOwn(UNPACK, encoding) ? UNPACK[encoding]! : null
  if (!unpack) throw new Error(`It is packed as ${encoding.slice(0, 40)}, which nobody asked for.`)
  return {
    status: statusCode,
    contentType: one('content-type'),
    cacheControl: one('cache-control') || null,
    encoding,
    wire,
    plain: await unpack(wire, { maxOutputLength: mostBytes }).catch(() => {
      throw new Error('It is packed in a way that can’t be undone, or is far larger than it seems.')
    }),
  }
}
