import type { Socket } from 'node:net'

/** So much of one connection waits for the lane before its sender has to, so that connections share it. */
const SHARE = 32_768
const MOST_UNDER_WAY = 4_000_000

/** One direction of a line: what goes through it takes its time, whatever connection it belongs to. */
export class Lane {
  private freeAt = 0

  /** @param bytesPerMs Infinity where nothing is slowed. */
  constructor(
    private bytesPerMs: number,
    private delayMs: number,
  ) {}

  /** When so many bytes that come now have arrived at the other end, in ms of the same clock as `now`. */
  arrival(bytes: number, now: number): number {
    this.freeAt = Math.max(this.freeAt, now) + bytes / this.bytesPerMs
    return this.freeAt + this.delayMs
  }

  /** So much of one connection may be under way: what the lane holds anyhow for its length, and a share of what waits for it. */
  get window(): number {
    return Math.min(MOST_UNDER_WAY, SHARE + (this.delayMs === 0 ? 0 : this.bytesPerMs * this.delayMs))
  }

  /** What comes from now on is not slowed, and doesn't wait for what came before. */
  open(): void {
    this.bytesPerMs = Infinity
    this.delayMs = 0
    this.freeAt = 0
  }
}

/** What arrives at once. */
const PIECE = 4_096

/** Hands on what comes from one socket to another, as slowly as the lane has it. Its end is handed on behind it. */
export function pacedPipe(from: Socket, to: Socket, lane: Lane): void {
  const queue: { bytes: Buffer; at: number }[] = []
  let queued = 0
  let ended = false
  let timer: NodeJS.Timeout | null = null
  let isFull = false
  /** Until the receiver has taken what it was given. */
  const wait = () => {
    isFull = true
    to.once('drain', () => {
      isFull = false
      handOn()
    })
  }
  const handOn = () => {
    timer = null
    if (isFull) return
    if (to.destroyed) return void (queue.length = 0)
    const now = performance.now()
    while (queue.length > 0 && queue[0]!.at <= now) {
      const { bytes } = queue.shift()!
      queued -= bytes.length
      if (!to.write(bytes)) return wait()
    }
    if (queued < lane.window) from.resume()
    if (queue.length > 0) timer = setTimeout(handOn, queue[0]!.at - now)
    else if (ended) to.end()
  }
  from.on('data', (chunk: Buffer) => {
    const now = performance.now()
    for (let at = 0; at < chunk.length; at += PIECE) {
      const bytes = chunk.subarray(at, at + PIECE)
      queue.push({ bytes, at: lane.arrival(bytes.length, now) })
    }
    queued += chunk.length
    if (queued >= lane.window) from.pause()
    if (!timer) handOn()
  })
  from.on('end', () => {
    ended = true
    if (queue.length === 0) to.end()
  })
  to.on('close', () => timer && clearTimeout(timer))
}
