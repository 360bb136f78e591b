import { createWriteStream, type WriteStream } from 'node:fs'
import type { IncomingMessage, ServerResponse } from 'node:http'

/**
 * The stand-in's access log: combined log format, behind it the host asked and the bytes put on the wire, headers
 * included, so that a measured page can be checked against what was really sent.
 */
export class AccessLog {
  private stream: WriteStream | null = null

  constructor(private readonly file: string | undefined) {}

  /** Lines that can't be written (a full disk, a folder that is gone) are lost, and the next one is tried anew: no visitor minds. */
  private append(line: string): void {
    if (!this.file) return
    if (!this.stream) {
      const stream = createWriteStream(this.file, { flags: 'a' })
      stream.on('error', () => {
        if (this.stream === stream) this.stream = null
      })
      this.stream = stream
    }
    this.stream.write(line)
  }

  /** Logs the answer when its last byte has been handed over, or when the visitor hung up before that. */
  watch(request: IncomingMessage, response: ServerResponse, also?: (line: string) => void): void {
    if (!this.file && !also) return
    const { socket } = request
    const sentBefore = socket.bytesWritten
    const at = new Date()
    let written = false
    const write = () => {
      if (written) return
      written = true
      const wire = socket.bytesWritten - sentBefore
      const body = response.getHeader('content-length') ?? '-'
      const quote = (text: string | undefined) => `"${(text ?? '-').replace(/["\\\r\n]/g, '?')}"`
      const line =
        `127.0.0.1 - - [${clfTime(at)}] ${quote(`${request.method} ${request.url} HTTP/1.1`)} ${response.statusCode} ${body} ` +
        `${quote(request.headers.referer)} ${quote(request.headers['user-agent'])}`
      this.append(`${line} ${quote(request.headers.host)} ${wire}\n`)
      also?.(`${line}\n`)
    }
    response.once('finish', write)
    response.once('close', write)
  }

  async close(): Promise<void> {
    if (this.stream) await new Promise((resolve) => this.stream!.end(resolve))
  }
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

export function clfTime(at: Date): string {
  const two = (n: number) => String(n).padStart(2, '0')
  const time = [at.getUTCHours(), at.getUTCMinutes(), at.getUTCSeconds()].map(two).join(':')
  return `${two(at.getUTCDate())}/${MONTHS[at.getUTCMonth()]}/${at.getUTCFullYear()}:${time} +0000`
}
