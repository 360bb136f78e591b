import { createHash } from 'node:crypto'
import { promisify } from 'node:util'
import { brotliCompress, constants, gzip } from 'node:zlib'

const brotlied = promisify(brotliCompress)
const gzipped = promisify(gzip)

/** Each is made once and sent many times, so it is packed better than what is packed for one. */
const BROTLI_QUALITY = 6
/** Whoever asks first waits for it, so what is large is packed less hard. */
const QUICK_QUALITY = 4
const QUICK_FROM_BYTES = 1_000_000
const GZIP_LEVEL = 6
/** Below this a packet is not filled either way. */
const LEAST_BYTES = 1_000

export type Encoding = 'br' | 'gzip' | 'identity'

/** An answer as it goes out: its bytes, the same ones packed as soon as somebody takes them so, and what names them. */
export class PackedAnswer {
  readonly etag: string
  private readonly packs = new Map<Encoding, Promise<Buffer>>()
  private packedBytes = 0

  constructor(
    readonly type: string,
    private readonly raw: Buffer,
    /** Whether it holds until something is written; else it is for those alone who have asked meanwhile. */
    readonly holds = true,
  ) {
    this.etag = `W/"${createHash('sha1').update(raw).digest('base64url')}"`
  }

  /** In bytes, with all that was packed of it. */
  get size(): number {
    return this.raw.length + this.packedBytes
  }

  /** @returns the bytes, and how they are packed, which may be not at all */
  async as(encoding: Encoding): Promise<{ bytes: Buffer; encoding: Encoding }> {
    if (encoding === 'identity' || this.raw.length < LEAST_BYTES) return { bytes: this.raw, encoding: 'identity' }
    let pack = this.packs.get(encoding)
    if (!pack) {
      pack = this.pack(encoding)
      this.packs.set(encoding, pack)
      this.packedBytes += (await pack).length
    }
    return { bytes: await pack, encoding }
  }

  private pack(encoding: 'br' | 'gzip'): Promise<Buffer> {
    const { BROTLI_PARAM_QUALITY, BROTLI_PARAM_SIZE_HINT } = constants
    const quality = this.raw.length < QUICK_FROM_BYTES ? BROTLI_QUALITY : QUICK_QUALITY
    const params = { [BROTLI_PARAM_QUALITY]: quality, [BROTLI_PARAM_SIZE_HINT]: this.raw.length }
    return encoding === 'br' ? brotlied(this.raw, { params }) : gzipped(this.raw, { level: GZIP_LEVEL })
  }
}
