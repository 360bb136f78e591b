import { request } from 'node:http'

const MOST_BYTES = 5_000_000
const MOST_HOPS = 5
const TIMEOUT_MS = 5_000

/** Fetches an outsider's file as the site's server would. Names below `localhost` are loopback (RFC 6761). */
export async function outsideFetch(address: string, hops = 0): Promise<{ body: Buffer; type: string }> {
  const url = new URL(address)
  if (url.protocol !== 'http:' || !url.hostname.endsWith('.localhost')) throw new Error('it is not on a known host')
  return new Promise((resolve, reject) => {
    const sent = request(
      {
        host: '127.0.0.1',
        port: url.port || 80,
        path: url.pathname + url.search,
        headers: { host: url.host },
        timeout: TIMEOUT_MS,
      },
      (response) => {
        const { statusCode = 0, headers } = response
        if (statusCode >= 300 && statusCode < 400 && headers.location) {
          response.resume()
          if (hops >= MOST_HOPS) return reject(new Error(`it redirects more than ${MOST_HOPS} times`))
          return resolve(outsideFetch(new URL(headers.location, url).href, hops + 1))
        }
        const chunks: Buffer[] = []
        let size = 0
        response.on('data', (chunk: Buffer) => {
          size += chunk.length
          chunks.push(chunk)
          if (size > MOST_BYTES) sent.destroy(new Error(`it is larger than ${MOST_BYTES} bytes`))
        })
        response.on('end', () => {
          if (statusCode !== 200) reject(new Error(`it answers ${statusCode}`))
          else resolve({ body: Buffer.concat(chunks), type: headers['content-type'] ?? '' })
        })
        response.on('error', reject)
      },
    )
    sent.on('timeout', () => sent.destroy(new Error('it does not answer in time')))
    sent.on('error', reject)
    sent.end()
  })
}
