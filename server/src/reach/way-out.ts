import { connect, createServer, isIP, type AddressInfo, type LookupFunction, type Server, type Socket } from 'node:net'
import { Lane, pacedPipe } from './paced-pipe.js'
import { checkLiteral, lookupWithin, OutOfReach, type Reach } from './reach.js'
import { isLinkLocal, isThisMachine } from './this-machine.js'
import { readWish, reply, REPLY, type Target } from './socks.js'

/** How slow a line is. Setting up a connection takes a round trip, and so does asking through it. */
export interface LineSpeed {
  /** Round trip, ms. */
  latencyMs: number
  /** Thousands of bits a second. */
  downKbps: number
  upKbps: number
}

const BITS = 8
const CONNECT_WITHIN_MS = 20_000

/** What a browser calls it when a connection fails, by what the system calls it. */
const BROWSERS_WORDS: Record<string, string> = {
  ENOTFOUND: 'net::ERR_NAME_NOT_RESOLVED',
  EAI_AGAIN: 'net::ERR_NAME_NOT_RESOLVED',
  ECONNREFUSED: 'net::ERR_CONNECTION_REFUSED',
  ECONNRESET: 'net::ERR_CONNECTION_RESET',
  EHOSTUNREACH: 'net::ERR_ADDRESS_UNREACHABLE',
  ENETUNREACH: 'net::ERR_ADDRESS_UNREACHABLE',
  ETIMEDOUT: 'net::ERR_CONNECTION_TIMED_OUT',
}

/**
 * The way out for a browser that may not reach everything, or that sits at the end of a slow line: a SOCKS proxy, which hands
 * bytes on as they are. Every connection is made here, after the name is resolved, so that neither a redirect nor a name that
 * resolves to something else leads to a closed address. The browser's own slowing would do for the line, but lets every tenth
 * load hang for ever (Chromium 156).
 */
export class WayOut {
  /** Hosts that were asked for and are closed, or ports of theirs that are, with the reason. */
  readonly refused = new Map<string, OutOfReach>()
  /** Hosts that no connection could be made to, with what a browser calls the reason. */
  readonly failed = new Map<string, string>()
  private readonly sockets = new Set<Socket>()
  private readonly up: Lane
  private readonly down: Lane

  private constructor(
    private readonly server: Server,
    private readonly reach: Reach,
    private readonly ports: readonly number[],
    private setUpMs: number,
    { upKbps, downKbps }: LineSpeed,
    private readonly hosts: Readonly<Record<string, string>>,
  ) {
    this.up = new Lane(upKbps / BITS, setUpMs / 2)
    this.down = new Lane(downKbps / BITS, setUpMs / 2)
  }

  /**
   * @param ports Where the site itself listens: of this machine nothing else is open to it, Unvelt and its database least of all.
   * @param hosts IP addresses of names that lead elsewhere for this site than DNS says.
   */
  static async start(
    reach: Reach,
    speed: LineSpeed | null,
    ports: readonly number[],
    hosts: Readonly<Record<string, string>> = {},
  ): Promise<WayOut> {
    const server = createServer({ allowHalfOpen: true, noDelay: true })
    const { latencyMs, ...rates } = speed ?? { latencyMs: 0, downKbps: Infinity, upKbps: Infinity }
    const way = new WayOut(server, reach, ports, latencyMs, { latencyMs, ...rates }, hosts)
    server.on('connection', (socket: Socket) => void way.take(socket))
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    return way
  }

  get address(): string {
    return `socks5://127.0.0.1:${(this.server.address() as AddressInfo).port}`
  }

  /** The line is fast from now on. */
  hurry(): void {
    this.setUpMs = 0
    this.up.open()
    this.down.open()
  }

  async stop(): Promise<void> {
    for (const socket of this.sockets) socket.destroy()
    await new Promise((resolve) => this.server.close(resolve))
  }

  private keep(socket: Socket): void {
    this.sockets.add(socket)
    socket.on('error', () => socket.destroy())
    socket.once('close', () => this.sockets.delete(socket))
  }

  private async take(socket: Socket): Promise<void> {
    this.keep(socket)
    const target = await readWish(socket)
    if (!target) return void socket.destroy()
    if (!this.allows(target)) return this.refuse(socket, REPLY.notAllowed)
    const onward = connect({
      ...target,
      lookup: this.lookupFor(target),
      allowHalfOpen: true,
      noDelay: true,
      timeout: CONNECT_WITHIN_MS,
    })
    this.keep(onward)
    onward.once('timeout', () => onward.destroy(Object.assign(new Error('timed out'), { code: 'ETIMEDOUT' })))
    let connected = false
    onward.once('connect', () => {
      connected = true
      onward.setTimeout(0)
      setTimeout(() => this.join(socket, onward), this.setUpMs)
    })
    onward.once('error', (error) => {
      // Later on it is no news: the browser is told by the end of what it reads.
      if (connected) return
      this.note(target, error)
      this.refuse(socket, error instanceof OutOfReach ? REPLY.notAllowed : REPLY.refused)
    })
  }

  private join(socket: Socket, onward: Socket): void {
    if (socket.destroyed || onward.destroyed) return void (socket.destroy(), onward.destroy())
    reply(socket, REPLY.done)
    pacedPipe(socket, onward, this.up)
    pacedPipe(onward, socket, this.down)
    socket.once('close', () => onward.destroy())
    // Who hangs up in the middle of an answer is heard of at the other end, behind what has been said.
    onward.once('close', (broken) => broken && socket.resetAndDestroy())
    socket.resume()
  }

  private refuse(socket: Socket, code: number): void {
    reply(socket, code)
    socket.end()
  }

  /** Literal addresses are never looked up. */
  private allows({ host, port }: Target): boolean {
    try {
      checkLiteral(host, this.reach)
      if (isLinkLocal(host)) throw new OutOfReach(host, host)
      if (isIP(host) && this.isClosed(host, port)) throw new OutOfReach(host, host, port)
      return true
    } catch (error) {
      if (error instanceof OutOfReach) this.refused.set(placeOf(error), error)
      return false
    }
  }

  private lookupFor({ port }: Target): LookupFunction {
    const look = lookupWithin(this.reach, (host) => Promise.resolve(this.hosts[host]))
    return (host, options, answer) =>
      look(host, { ...options, all: true }, (error, found) => {
        if (error) return answer(error, '', 0)
        const addresses = found as { address: string; family: number }[]
        const line = addresses.find(({ address }) => isLinkLocal(address))
        if (line) return answer(new OutOfReach(host, line.address), '', 0)
        const closed = addresses.find(({ address }) => this.isClosed(address, port))
        if (closed) return answer(new OutOfReach(host, closed.address, port), '', 0)
        if (options.all) answer(null, addresses)
        else answer(null, addresses[0]!.address, addresses[0]!.family)
      })
  }

  private isClosed(address: string, port: number): boolean {
    return !this.ports.includes(port) && isThisMachine(address)
  }

  /** Why an address is closed to this site; undefined where it isn't, as far as it was asked for. */
  closedTo(url: string): OutOfReach | undefined {
    const { hostname, port, protocol } = new URL(url)
    const host = hostname.replace(/^\[|\]$/g, '')
    return this.refused.get(host) ?? this.refused.get(`${host}:${port || (protocol === 'https:' ? 443 : 80)}`)
  }

  private note({ host }: Target, error: unknown): void {
    if (error instanceof OutOfReach) this.refused.set(placeOf(error), error)
    else this.failed.set(host, BROWSERS_WORDS[(error as { code?: string }).code ?? ''] ?? 'net::ERR_CONNECTION_FAILED')
  }
}

const placeOf = ({ host, port }: OutOfReach) => (port === null ? host : `${host}:${port}`)
