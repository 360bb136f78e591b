import {
  createSecureServer,
  type Http2SecureServer,
  type Http2ServerRequest,
  type Http2ServerResponse,
} from 'node:http2'
import { request as ask } from 'node:http'
import type { AddressInfo, Socket } from 'node:net'
import { brotliCompressSync } from 'node:zlib'
import { generate } from 'selfsigned'

export interface SafeFront {
  port: number
  /** What it has sent, by path: bytes of the body as they went over the wire. */
  sent: { path: string; bytes: number; version: string }[]
  /** Shows another certificate of its own making from now on. */
  renew(): Promise<void>
  stop(): Promise<void>
}

/** Stands before a site with TLS, HTTP/2 and Brotli, and with a certificate that nobody but itself vouches for. */
export async function safeFront(behind: string, host: string): Promise<SafeFront> {
  const sent: SafeFront['sent'] = []
  const server: Http2SecureServer = createSecureServer({ ...(await ownCertificate(host)), allowHTTP1: true })
  server.on('request', (request: Http2ServerRequest, response: Http2ServerResponse) => {
    const { host: theirs, port } = new URL(behind)
    const headers = Object.fromEntries(
      Object.entries(request.headers).filter(([name]) => !name.startsWith(':') && name !== 'accept-encoding'),
    )
    const onward = ask(
      { port, path: request.url, method: request.method, headers: { ...headers, host: theirs } },
      (answer) => {
        const chunks: Buffer[] = []
        answer.on('data', (chunk: Buffer) => chunks.push(chunk))
        answer.on('end', () => {
          const plain = Buffer.concat(chunks)
          const isText = /^text|javascript|json/.test(answer.headers['content-type'] ?? '')
          const body = isText && plain.length > 100 ? brotliCompressSync(plain) : plain
          response.statusCode = answer.statusCode!
          for (const [name, value] of Object.entries(answer.headers))
            if (!/^(?:connection|keep-alive|transfer-encoding|content-length)$/.test(name))
              response.setHeader(name, value!)
          if (body !== plain) response.setHeader('content-encoding', 'br')
          if (request.url.endsWith('.js')) response.setHeader('cache-control', 'max-age=3600')
          sent.push({ path: request.url, bytes: body.length, version: request.httpVersion })
          response.end(body)
        })
      },
    )
    onward.on('error', () => response.stream?.destroy())
    request.pipe(onward)
  })
  const open = new Set<Socket>()
  server.on('secureConnection', (socket: Socket) => {
    open.add(socket)
    socket.once('close', () => open.delete(socket))
  })
  const hangUp = () => {
    for (const socket of open) socket.destroy()
  }
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    port: (server.address() as AddressInfo).port,
    sent,
    renew: async () => {
      server.setSecureContext(await ownCertificate(host))
      hangUp()
    },
    stop: () =>
      new Promise((resolve) => {
        server.close(() => resolve())
        hangUp()
      }),
  }
}

async function ownCertificate(host: string): Promise<{ key: string; cert: string }> {
  const { private: key, cert } = await generate([{ name: 'commonName', value: host }], {
    keySize: 2048,
    algorithm: 'sha256',
    extensions: [{ name: 'subjectAltName', altNames: [{ type: 2, value: host }] }],
  })
  return { key, cert }
}
