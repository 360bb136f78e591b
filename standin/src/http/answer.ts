import type { IncomingMessage, ServerResponse } from 'node:http'
import { gzipSync } from 'node:zlib'

export type Handler = (request: IncomingMessage, response: ServerResponse, address: URL) => Promise<void> | void

const TYPES: Record<string, string> = {
  js: 'text/javascript; charset=utf-8',
  css: 'text/css; charset=utf-8',
  svg: 'image/svg+xml',
  png: 'image/png',
  jpg: 'image/jpeg',
  gif: 'image/gif',
  woff2: 'font/woff2',
  html: 'text/html; charset=utf-8',
  json: 'application/json',
}

export const contentType = (path: string) => TYPES[path.split('.').at(-1) ?? ''] ?? 'application/octet-stream'

const squeezed = new WeakMap<Buffer, Buffer>()

export interface Serving {
  compress?: boolean
  /** Whether browsers may keep it. */
  keep?: boolean
  headers?: Record<string, string>
}

/** Sends a fixed file; text is compressed for those who take it, once. */
export function sendFile(
  request: IncomingMessage,
  response: ServerResponse,
  path: string,
  body: Buffer,
  { compress = true, keep = true, headers: more = {} }: Serving = {},
): void {
  const type = contentType(path)
  const headers: Record<string, string> = {
    'content-type': type,
    'cache-control': keep ? 'public, max-age=86400' : 'no-store',
    'access-control-allow-origin': '*',
    ...more,
  }
  let sent = body
  if (compress && /^text\/|svg|json/.test(type) && /\bgzip\b/.test(request.headers['accept-encoding'] ?? '')) {
    sent = squeezed.get(body) ?? gzipSync(body)
    squeezed.set(body, sent)
    headers['content-encoding'] = 'gzip'
    headers.vary = 'accept-encoding'
  }
  send(response, 200, headers, sent)
}

export function send(
  response: ServerResponse,
  status: number,
  headers: Record<string, string>,
  body: Buffer | string = '',
): void {
  const bytes = typeof body === 'string' ? Buffer.from(body) : body
  response.writeHead(status, { ...headers, 'content-length': String(bytes.length) })
  response.end(bytes)
}

/** A problem document (RFC 9457). */
export function sendProblem(response: ServerResponse, status: number, title: string, more: object = {}): void {
  send(
    response,
    status,
    { 'content-type': 'application/problem+json' },
    JSON.stringify({ type: 'about:blank', status, title, ...more }),
  )
}

export function sendJson(response: ServerResponse, value: unknown, headers: Record<string, string> = {}): void {
  send(response, 200, { 'content-type': 'application/json', ...headers }, JSON.stringify(value))
}

export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`)
}
