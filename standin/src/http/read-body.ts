import type { IncomingMessage } from 'node:http'

export class TooLargeError extends Error {}

/** Reads a request's body as text, up to a number of bytes. @throws TooLargeError beyond them. */
export async function readBody(request: IncomingMessage, mostBytes: number): Promise<string> {
  const chunks: Buffer[] = []
  let size = 0
  // The stream is left open on the way out, so that the refusal can still be sent over it.
  for await (const chunk of request.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > mostBytes) throw new TooLargeError(`more than ${mostBytes} bytes`)
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}
