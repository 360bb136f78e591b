import type { Socket } from 'node:net'

/** Where a client of a SOCKS proxy wants to go. */
export interface Target {
  host: string
  port: number
}

/** Reply codes (RFC 1928, section 6). */
export const REPLY = { done: 0, notAllowed: 2, unreachable: 4, refused: 5 } as const

const VERSION = 5
const CONNECT = 1
const LONGEST_HELLO = 600

/**
 * Takes a client's greeting and its wish (RFC 1928, without authentication, CONNECT only) and leaves the socket paused, with
 * whatever came behind them put back.
 * @returns Null for what is no such client.
 */
export function readWish(socket: Socket): Promise<Target | null> {
  return new Promise((resolve) => {
    let hello = Buffer.alloc(0)
    let greeted = false
    const end = (target: Target | null, rest = Buffer.alloc(0)) => {
      socket.off('data', take)
      socket.off('close', gone)
      socket.pause()
      if (rest.length > 0) socket.unshift(rest)
      resolve(target)
    }
    const gone = () => end(null)
    const take = (chunk: Buffer) => {
      hello = Buffer.concat([hello, chunk])
      if (hello.length > LONGEST_HELLO || hello[0] !== VERSION) return end(null)
      if (!greeted) {
        if (hello.length < 2 || hello.length < 2 + hello[1]!) return
        hello = hello.subarray(2 + hello[1]!)
        greeted = true
        socket.write(Buffer.from([VERSION, 0]))
      }
      const wish = wishOf(hello)
      if (wish === 'more') return
      end(wish && wish.target, wish ? hello.subarray(wish.length) : undefined)
    }
    socket.on('data', take)
    socket.on('close', gone)
  })
}

function wishOf(bytes: Buffer): { target: Target; length: number } | 'more' | null {
  if (bytes.length < 5) return 'more'
  if (bytes[1] !== CONNECT) return null
  const size = { 1: 4, 3: 1 + bytes[4]!, 4: 16 }[bytes[3]!]
  if (size === undefined) return null
  const length = 4 + size + 2
  if (bytes.length < length) return 'more'
  const address = bytes.subarray(4, 4 + size)
  return { target: { host: hostOf(bytes[3]!, address), port: bytes.readUInt16BE(4 + size) }, length }
}

function hostOf(kind: number, address: Buffer): string {
  if (kind === 3) return address.subarray(1).toString('latin1')
  if (kind === 1) return [...address].join('.')
  return Array.from({ length: 8 }, (_, n) => address.readUInt16BE(2 * n).toString(16)).join(':')
}

/** Answers a wish; nothing of use stands in the rest of the answer. */
export const reply = (socket: Socket, code: number) =>
  void socket.write(Buffer.from([VERSION, code, 0, 1, 0, 0, 0, 0, 0, 0]))
