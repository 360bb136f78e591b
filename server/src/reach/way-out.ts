import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net'
import { Lane, pacedPipe } from './paced-pipe.js'
import { checkLiteral, lookupWithin, OutOfReach, type Reach } from './reach.js'
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
  /** Hosts that were asked for and are closed, with the address that closed them. */
  readonly refused = new Map<string, string>()
  /** Hosts that no connection could be made to, with what a browser calls the reason. */
  readonly failed = new Map<string, string>()
  private readonly sockets = new Set<Socket>()
  private readonly up: Lane
  private readonly down: Lane

  private constructor(
    private readonly server: Server,
    private readonly reach: Reach,
    private setUpMs: number,
    { upKbps, downKbps }: LineSpeed,
  ) {
    this.up = new Lane(upKbps / BITS, setUpMs / 2)
    this.down = new Lane(downKbps / BITS, setUpMs / 2)
  }

  static async start(reach: Reach, speed: LineSpeed | null): Promise<WayOut> {
    const server = createServer({ allowHalfOpen: true, noDelay: true })
    const { latencyMs, ...rates } = speed ?? { latencyMs: 0, downKbps: Infinity, upKbps: Infinity }
    const way = new WayOut(server, reach, latencyMs, { latencyMs, ...rates })
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
    if (!this.allows(target.host)) return this.refuse(socket, REPLY.notAllowed)
    const onward = connect({
      ...target,
      lookup: lookupWithin(this.reach),
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

  private allows(host: string): boolean {
    try {
      checkLiteral(host, this.reach)
      return true
    } catch (error) {
      if (error instanceof OutOfReach) this.refused.set(host, error.address)
      return false
    }
  }

  private note({ host }: Target, error: unknown): void {
    if (error instanceof OutOfReach) this.refused.set(host, error.address)
    else this.failed.set(host, BROWSERS_WORDS[(error as { code?: string }).code ?? ''] ?? 'net::ERR_CONNECTION_FAILED')
  }
}
