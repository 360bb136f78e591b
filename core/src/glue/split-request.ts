import { covered, unite, type Range } from '../idle/byte-ranges.js'
import type { FileUse, RequestRecord } from '../reading/reading.js'
import { apportion } from './apportion.js'

/** A part of a file that was glued together from several payers' files. Offsets are bytes of the uncompressed file. */
export interface GluedShare {
  payer: string
  from: number
  bytes: number
}

/** What one payer has of one glued file. */
export interface SplitToll {
  payer: string
  transferBytes: number
  decodedBytes: number
  idleBytes: number
}

/**
 * Splits a glued file's bytes among those whose code is in it, so that they add up to the file exactly. Decoded bytes go
 * by the parts' own sizes, and what was transferred in the same proportion, since a compressed stream has no seams.
 */
export function splitRequest(request: RequestRecord, shares: readonly GluedShare[], use?: FileUse): SplitToll[] {
  const sizes = shares.map((share) => share.bytes)
  const decoded = apportion(request.decodedBytes, sizes)
  const transfer = apportion(request.transferBytes, sizes)
  const whole = sizes.reduce((sum, size) => sum + size, 0) === request.decodedBytes
  const idle = use ? idleOf(request, shares, decoded, use, whole) : shares.map(() => 0)
  return shares.map(({ payer }, n) => ({
    payer,
    transferBytes: transfer[n]!,
    decodedBytes: decoded[n]!,
    idleBytes: idle[n]!,
  }))
}

function idleOf(
  request: RequestRecord,
  shares: readonly GluedShare[],
  decoded: number[],
  { used }: FileUse,
  whole: boolean,
): number[] {
  const all = Math.max(0, request.decodedBytes - covered(used))
  // A list of parts that doesn't fit the file that came says only how they stand to each other.
  if (!whole) return apportion(all, decoded)
  const united = unite([...used])
  const idle = shares.map(({ from, bytes }) => bytes - covered(within(united, from, from + bytes)))
  // Parts that lie over each other, or leave a gap, would not add up.
  return idle.reduce((sum, bytes) => sum + bytes, 0) === all ? idle : apportion(all, decoded)
}

const within = (ranges: readonly Range[], from: number, to: number): Range[] =>
  ranges.flatMap(([a, b]): Range[] => (b > from && a < to ? [[Math.max(a, from), Math.min(b, to)]] : []))
