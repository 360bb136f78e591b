import { hasFingerprint, keptSeconds } from '@unvelt/core'
import type { CodeType, LookedAtFile } from '@unvelt/contract'
import { parseApart } from '../parse/parse-apart.js'
import { fetchPacked } from '../site-http/fetch-packed.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import { brotliSize, gzipSize } from '../site-http/usual-packing.js'
import type { Reach } from '../reach/reach.js'

const MOST_BYTES = 8e6
/** Longer code is packed, and not minified: characters. */
const MOST_MINIFIED = 4_000_000
interface Asked {
  url: string
  type: CodeType
  isOwn: boolean
}

/** Asks for a script or style once more, packs and minifies it. What goes wrong is told beside the file. */
export async function weighFile({ url, type, isOwn }: Asked, reach: Reach): Promise<LookedAtFile> {
  const told = { url, type, isOwn, hasFingerprint: hasFingerprint(url) }
  const not = (why: string): LookedAtFile => ({
    ...told,
    bytes: 0,
    encoding: '',
    plain: 0,
    gzip: 0,
    brotli: 0,
    minified: null,
    keptSeconds: null,
    why,
  })
  try {
    const { status, cacheControl, encoding, wire, plain } = await fetchPacked(new URL(url), reach, MOST_BYTES)
    if (status !== 200) return not(`It answered ${status} when it was asked for by itself.`)
    const code = plain.toString('utf8')
    const minified =
      code.length > MOST_MINIFIED ? null : await parseApart(type === 'script' ? 'short script' : 'short style', code)
    const text = minified === null ? null : Buffer.from(minified, 'utf8')
    return {
      ...told,
      bytes: wire.length,
      encoding,
      plain: plain.length,
      ...(await packedSizes(plain)),
      minified: text && { plain: text.length, ...(await packedSizes(text)) },
      keptSeconds: keptSeconds(cacheControl),
      why: text === null ? 'It could not be minified: its code is not understood, or it takes too long.' : null,
    }
  } catch (error) {
    const { message } = error as Error
    return not(/^It is /.test(message) ? message : whyUnreachable(error, new URL(url).host))
  }
}

const packedSizes = async (body: Buffer): Promise<{ gzip: number; brotli: number }> => ({
  gzip: await gzipSize(body),
  brotli: await brotliSize(body),
})
