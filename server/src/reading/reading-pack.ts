import { promisify } from 'node:util'
import { brotliCompress, brotliDecompress, constants, gunzip } from 'node:zlib'
import type { Reading } from '@unvelt/core'

const squeeze = promisify(brotliCompress)
const unsqueeze = promisify(brotliDecompress)
const ungzip = promisify(gunzip)

const QUALITY = 5
/** Repeats of a large page stand megabytes apart; what one has of another must still be in sight. As a power of two. */
const WINDOW = 24

/** Readings of one page by the numbers of their repeats, as JSON. Nearly all of one stands in the next, so together they take little more than one. */
export async function packReadings(readings: ReadonlyMap<number, string>): Promise<Buffer> {
  const text = Buffer.from(`{${[...readings].map(([repeat, json]) => `"${repeat}":${json}`).join(',')}}`)
  return squeeze(text, {
    params: {
      [constants.BROTLI_PARAM_QUALITY]: QUALITY,
      [constants.BROTLI_PARAM_LGWIN]: WINDOW,
      [constants.BROTLI_PARAM_SIZE_HINT]: text.length,
    },
  })
}

/** @param repeat Whose reading an earlier version has kept, which packed each by itself. */
export async function unpackReadings(bytes: Buffer, repeat: number): Promise<Map<number, Reading>> {
  const alone = await packedAlone(bytes)
  if (alone) return new Map([[repeat, JSON.parse(alone.toString()) as Reading]])
  const byRepeat = JSON.parse((await unsqueeze(bytes)).toString()) as Record<string, Reading>
  return new Map(Object.entries(byRepeat).map(([of, reading]) => [Number(of), reading]))
}

/**
 * What an earlier version has packed, with gzip. Brotli has no mark to be known by, and one text in 256 begins as gzip does: the second byte is
 * that of its length. Only gzip's checksum tells.
 */
async function packedAlone(bytes: Buffer): Promise<Buffer | null> {
  const mayBe = bytes[0] === 0x1f && bytes[1] === 0x8b
  return mayBe ? ungzip(bytes).catch(() => null) : null
}
