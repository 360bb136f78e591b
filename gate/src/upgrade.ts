import { request as httpRequest, type IncomingMessage } from 'node:http'
import { request as httpsRequest } from 'node:https'
import type { Duplex } from 'node:stream'
import type { GateSite } from './gate-site.js'
import { sentOn } from './headers.js'

/** Passes a connection that becomes something else (a websocket), and then all that goes over it, either way. */
export async function passUpgrade(
  site: GateSite,
  gate: string,
  request: IncomingMessage,
  socket: Duplex,
  head: Buffer,
): Promise<void> {
  const url = new URL(request.url!, site.origin)
  const isSafe = url.protocol === 'https:'
  const own = await site.headers(url)
  const outgoing = (isSafe ? httpsRequest : httpRequest)({
    hostname: url.hostname.replace(/^\[|\]$/g, ''),
    port: url.port || (isSafe ? 443 : 80),
    path: request.url!,
    method: request.method,
    headers: [
      ...sentOn(request, site, gate, own),
      'connection',
      'Upgrade',
      'upgrade',
      String(request.headers.upgrade),
    ] as unknown as NodeJS.Dict<string>,
    agent: (isSafe && site.safely) || false,
    setHost: false,
    ...(site.lookup && { lookup: site.lookup }),
  })
  const end = () => {
    outgoing.destroy()
    socket.destroy()
  }
  socket.once('error', end)
  socket.once('close', () => outgoing.destroy())
  outgoing.once('error', () => socket.end('HTTP/1.1 502 Bad Gateway\r\nconnection: close\r\n\r\n'))
  outgoing.once('response', (answer) => {
    // The site would rather not.
    socket.write(headOf(answer, ['connection', 'close']))
    answer.pipe(socket)
  })
  outgoing.once('upgrade', (answer, beyond, beyondHead) => {
    outgoing.removeAllListeners('error').on('error', end)
    socket.write(headOf(answer, []))
    if (beyondHead.length > 0) socket.write(beyondHead)
    if (head.length > 0) beyond.write(head)
    beyond.once('error', end).once('close', end)
    socket.pipe(beyond).pipe(socket)
  })
  outgoing.end()
}

/** What an answer begins with on the wire. Names and values come from a parser, and so hold no line ends. */
function headOf({ statusCode, statusMessage, rawHeaders }: IncomingMessage, added: string[]): string {
  const all = [...rawHeaders, ...added]
  const lines = all.flatMap((name, i) => {
    if (i % 2 === 1 || (added.length > 0 && i < rawHeaders.length && /^(?:connection|transfer-encoding)$/i.test(name)))
      return []
    return `${name}: ${all[i + 1]}\r\n`
  })
  return `HTTP/1.1 ${statusCode} ${statusMessage}\r\n${lines.join('')}\r\n`
}
