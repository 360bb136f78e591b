import { promisify } from 'node:util'
import { brotliCompress, constants, gzip } from 'node:zlib'

/** What servers are set to by themselves: more takes too long while somebody waits. */
const GZIP = { level: 6 }
const BROTLI = { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } }

const toGzip = promisify<Buffer, typeof GZIP, Buffer>(gzip)
const toBrotli = promisify<Buffer, typeof BROTLI, Buffer>(brotliCompress)

/** Bytes of a body as servers pack it. */
export const gzipSize = async (body: Buffer): Promise<number> => (await toGzip(body, GZIP)).length
export const brotliSize = async (body: Buffer): Promise<number> => (await toBrotli(body, BROTLI)).length
