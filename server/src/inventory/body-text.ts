import type { Readable } from 'node:stream'
import { ProblemError } from '../problem/problem.error.js'

const MOST_BYTES = 30e6

/** The body of a request as text. @throws ProblemError 413 where it is too long to be a list */
export async function bodyText(request: Readable): Promise<string> {
  const parts: Buffer[] = []
  let size = 0
  for await (const part of request as AsyncIterable<Buffer>) {
    size += part.length
    if (size > MOST_BYTES) throw new ProblemError(413, 'The file is longer than 30 MB. Nothing was taken in.')
    parts.push(part)
  }
  return Buffer.concat(parts).toString('utf8')
}
