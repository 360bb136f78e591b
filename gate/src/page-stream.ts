import { Transform, type TransformCallback } from 'node:stream'
import {
  constants,
  createBrotliCompress,
  createBrotliDecompress,
  createGunzip,
  createGzip,
  createInflate,
} from 'node:zlib'
import { HtmlRewriter, type RewritePlan } from '@unvelt/core'

/** Applies a plan to a page while it comes. Keeps no more of it than the rewriter has to. */
export class PageRewriter {
  private rewriter: HtmlRewriter | null | undefined

  constructor(private readonly plan: RewritePlan) {}

  /** @returns What is settled by that: bytes as Latin-1 text, or the piece itself. */
  take(chunk: Buffer): string | Buffer {
    // A page of two bytes a character is nothing that the rewriter could read.
    if (this.rewriter === undefined) this.rewriter = isWide(chunk) ? null : new HtmlRewriter(this.plan)
    return this.rewriter === null ? chunk : this.rewriter.write(chunk.toString('latin1'))
  }

  /** What is left once the page has ended: bytes as Latin-1 text. */
  rest(): string {
    return this.rewriter ? this.rewriter.end() : ''
  }
}

/** The same as a part of a pipeline. */
export class PageStream extends Transform {
  constructor(private readonly page: PageRewriter) {
    super()
  }

  override _transform(chunk: Buffer, _encoding: BufferEncoding, done: TransformCallback): void {
    this.give(this.page.take(chunk))
    done()
  }

  override _flush(done: TransformCallback): void {
    this.give(this.page.rest())
    done()
  }

  private give(piece: string | Buffer): void {
    if (piece.length > 0) this.push(typeof piece === 'string' ? Buffer.from(piece, 'latin1') : piece)
  }
}

const isWide = (bytes: Buffer) => (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)

const CHUNK = { chunkSize: 1 << 16 }

/** How a coding of a body is taken off and put on again; each piece goes on as soon as it has come. */
const CODINGS: Record<string, () => [Transform, Transform]> = {
  gzip: () => [createGunzip(CHUNK), createGzip({ ...CHUNK, level: 4, flush: constants.Z_SYNC_FLUSH })],
  deflate: () => [createInflate(CHUNK), createGzip({ ...CHUNK, level: 4, flush: constants.Z_SYNC_FLUSH })],
  br: () => [
    createBrotliDecompress(CHUNK),
    createBrotliCompress({
      ...CHUNK,
      flush: constants.BROTLI_OPERATION_FLUSH,
      params: { [constants.BROTLI_PARAM_QUALITY]: 3 },
    }),
  ],
}
CODINGS['x-gzip'] = CODINGS.gzip!

/** What takes a coding off and puts one on again, and the one that is on then; null for a coding that is not known here. */
export function recoding(
  coding: string | undefined,
): { off: Transform[]; on: Transform[]; coding: string | null } | null {
  const name = coding?.trim().toLowerCase() ?? 'identity'
  if (name === 'identity' || name === '') return { off: [], on: [], coding: null }
  if (!Object.hasOwn(CODINGS, name)) return null
  const [off, on] = CODINGS[name]!()
  return { off: [off], on: [on], coding: name === 'br' ? 'br' : 'gzip' }
}
