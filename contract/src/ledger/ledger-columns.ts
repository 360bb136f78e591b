import { MEASURES, type Measure } from '@unvelt/core'

/**
 * The cells of a ledger as bytes, little-endian: their number (Uint32) and the measures' number (Uint32), then for each
 * measure in the order of `LEDGER_MEASURES` a Float32 or Uint32 a cell, then the cell's page and its payer (Uint16 each),
 * as indexes into the ledger's lists. Cells without a toll are left out.
 */
export interface LedgerCells {
  count: number
  page: Uint16Array
  payer: Uint16Array
  values: Record<Measure, Uint32Array | Float32Array>
}

/** Time is measured in fractions; all else is counted. */
export const isTime = (measure: Measure): boolean => measure.endsWith('Ms')

export const LEDGER_MEASURES = MEASURES
const HEAD = 8

export function packCells(
  page: ArrayLike<number>,
  payer: ArrayLike<number>,
  values: Record<Measure, ArrayLike<number>>,
): ArrayBuffer {
  const count = page.length
  const bytes = new ArrayBuffer(HEAD + count * (4 * LEDGER_MEASURES.length + 4))
  new Uint32Array(bytes, 0, 2).set([count, LEDGER_MEASURES.length])
  LEDGER_MEASURES.forEach((measure, index) => columnAt(bytes, measure, index, count).set(values[measure]))
  const after = HEAD + count * 4 * LEDGER_MEASURES.length
  new Uint16Array(bytes, after, count).set(page)
  new Uint16Array(bytes, after + 2 * count, count).set(payer)
  return bytes
}

/** @throws Error when the bytes are not such columns */
export function unpackCells(bytes: ArrayBuffer): LedgerCells {
  const [count = 0, measures = 0] = bytes.byteLength >= HEAD ? new Uint32Array(bytes, 0, 2) : []
  if (measures !== LEDGER_MEASURES.length || bytes.byteLength !== HEAD + count * (4 * measures + 4))
    throw new Error('The ledger’s columns don’t have the length that they say.')
  const after = HEAD + count * 4 * measures
  return {
    count,
    values: Object.fromEntries(
      LEDGER_MEASURES.map((measure, index) => [measure, columnAt(bytes, measure, index, count)]),
    ) as LedgerCells['values'],
    page: new Uint16Array(bytes, after, count),
    payer: new Uint16Array(bytes, after + 2 * count, count),
  }
}

const columnAt = (bytes: ArrayBuffer, measure: Measure, index: number, count: number) =>
  isTime(measure)
    ? new Float32Array(bytes, HEAD + index * 4 * count, count)
    : new Uint32Array(bytes, HEAD + index * 4 * count, count)
