import { createServer } from 'node:net'
import { PlainError } from './fail.mjs'

/** A free port on loopback; another program may still take it before it is used. */
export function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer()
    server.once('error', reject)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => resolve(port))
    })
  })
}

/** Fails with a sentence when a port that is needed is taken. */
export async function requirePort(port, purpose, variable) {
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new PlainError(`${variable} must be a port number from 1 to 65535.`)
  const free = await new Promise((resolve) => {
    const server = createServer()
    server.once('error', () => resolve(false))
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)))
  })
  if (!free)
    throw new PlainError(
      `port ${port} is in use, and ${purpose} needs it. End the program that holds it (is Unvelt running already?) or set ${variable} to another port.`,
    )
}
