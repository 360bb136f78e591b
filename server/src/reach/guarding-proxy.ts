import { Agent, createServer, request, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { connect, type AddressInfo, type Socket } from 'node:net'
import type { Duplex } from 'node:stream'
import { checkLiteral, lookupWithin, OutOfReach, type Reach } from './reach.js'

/** Names that proxies must not pass on (RFC 9110, section 7.6.1). */
const OF_THE_CONNECTION = new Set([
  'connection',
  'proxy-connection',
  'keep-alive',
  'te',
  'upgrade',
  'proxy-authorization',
])

/**
 * The way out for a browser that may not reach everything. Every connection is made here, after the name is resolved, so
 * that neither a redirect nor a name that resolves to something else leads to a closed address.
 */
export class GuardingProxy {
  /** Hosts that were asked for and are closed, with the address that closed them. */
  readonly refused = new Map<string, string>()
  /** Its own, so that no connection is taken over that was made for somebody who may go further. */
  private readonly agent = new Agent({ keepAlive: true })
  private readonly sockets = new Set<Duplex>()

  private constructor(
    private readonly server: Server,
    private readonly reach: Reach,
  ) {}

  static async start(reach: Reach): Promise<GuardingProxy> {
    const server = createServer({ keepAliveTimeout: 30_000 })
    const proxy = new GuardingProxy(server, reach)
    server.on('request', (asked: IncomingMessage, answer: ServerResponse) => proxy.pass(asked, answer))
    server.on('connect', (asked: IncomingMessage, socket: Duplex, head: Buffer) => proxy.tunnel(asked, socket, head))
    server.on('connection', (socket: Socket) => proxy.keep(socket))
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    return proxy
  }

  get address(): string {
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`
  }

  async stop(): Promise<void> {
    for (const socket of this.sockets) socket.destroy()
    this.agent.destroy()
    await new Promise((resolve) => this.server.close(resolve))
  }

  private keep(socket: Duplex): void {
    this.sockets.add(socket)
    socket.on('error', () => socket.destroy())
    socket.once('close', () => this.sockets.delete(socket))
  }

  /** Plain HTTP. A request that may not go on gets no answer at all, since any answer would count as the site's. */
  private pass(asked: IncomingMessage, answer: ServerResponse): void {
    const url = URL.canParse(asked.url ?? '') ? new URL(asked.url!) : null
    if (url?.protocol !== 'http:' || !this.allows(url.hostname)) return void asked.socket.destroy()
    const onward = request(url, {
      method: asked.method,
      headers: withoutConnection(asked.rawHeaders),
      lookup: lookupWithin(this.reach),
      agent: this.agent,
    })
    onward.on('response', (given) => {
      answer.writeHead(given.statusCode!, given.statusMessage, withoutConnection(given.rawHeaders))
      given.pipe(answer)
      given.on('error', () => answer.destroy())
    })
    onward.on('error', (error) => {
      this.note(url.hostname, error)
      asked.socket.destroy()
    })
    answer.on('close', () => onward.destroy())
    asked.pipe(onward)
  }

  /** Everything else: TLS, and sockets that stay open. */
  private tunnel(asked: IncomingMessage, socket: Duplex, head: Buffer): void {
    const [, host, port] = /^\[?([^\]]+)\]?:(\d+)$/.exec(asked.url ?? '') ?? []
    if (!host || !this.allows(host)) return void socket.end('HTTP/1.1 403 Forbidden\r\n\r\n')
    const onward = connect({ host, port: Number(port), lookup: lookupWithin(this.reach) }, () => {
      socket.write('HTTP/1.1 200 Connection Established\r\n\r\n')
      onward.write(head)
      onward.pipe(socket)
      socket.pipe(onward)
    })
    this.keep(onward)
    onward.on('error', (error) => {
      this.note(host, error)
      socket.destroy()
    })
    socket.on('close', () => onward.destroy())
    onward.on('close', () => socket.destroy())
  }

  private allows(host: string): boolean {
    try {
      checkLiteral(host, this.reach)
      return true
    } catch (error) {
      this.note(host, error)
      return false
    }
  }

  private note(host: string, error: unknown): void {
    if (error instanceof OutOfReach) this.refused.set(host, error.address)
  }
}

function withoutConnection(raw: string[]): string[] {
  const kept: string[] = []
  for (let i = 0; i < raw.length; i += 2)
    if (!OF_THE_CONNECTION.has(raw[i]!.toLowerCase())) kept.push(raw[i]!, raw[i + 1]!)
  return kept
}
