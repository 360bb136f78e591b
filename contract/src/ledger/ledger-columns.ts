import { MEASURES, type Measure } from '@unvelt/core'

/** The cells of a ledger. Cells without a toll are left out; entry n of every list belongs together. */
export interface LedgerCells {
  /** Ids of the pages and slugs of the payers that the cells are about. */
  pages: number[]
  payers: string[]
  count: number
  /** Index into `pages` and into `payers`. */
  page: Uint16Array
  payer: Uint16Array
  values: Record<Measure, Uint32Array | Float32Array>
}

/** Time is measured in fractions; all else is counted. */
export const isTime = (measure: Measure): boolean => measure.endsWith('Ms')

const HEAD = 12
const MOST_INDEX = 65_535

/**
 * Cells as bytes, little-endian: three Uint32 (number of cells, number of measures, length of the names), the names as
 * JSON (`{"pages":[…],"payers":[…]}`, filled up to a multiple of four with spaces), then for each measure, in the order of
 * `MEASURES`, a Float32 or Uint32 a cell, then the cells' pages and payers (Uint16 each).
 */
export function packCells(
  names: Pick<LedgerCells, 'pages' | 'payers'>,
  page: ArrayLike<number>,
  payer: ArrayLike<number>,
  values: Record<Measure, ArrayLike<number>>,
): Uint8Array {
  const count = page.length
  if (names.pages.length > MOST_INDEX || names.payers.length > MOST_INDEX)
    throw new Error(`A ledger has at most ${MOST_INDEX} pages and as many payers.`)
  const json = new TextEncoder().encode(padded(JSON.stringify({ pages: names.pages, payers: names.payers })))
  const bytes = new ArrayBuffer(sizeOf(count, json.length))
  new Uint32Array(bytes, 0, 3).set([count, MEASURES.length, json.length])
  new Uint8Array(bytes, HEAD).set(json)
  const from = HEAD + json.length
  MEASURES.forEach((measure, index) => columnAt(bytes, from, measure, index, count).set(values[measure]))
  const after = from + count * 4 * MEASURES.length
  new Uint16Array(bytes, after, count).set(page)
  new Uint16Array(bytes, after + 2 * count, count).set(payer)
  return new Uint8Array(bytes)
}

/** @throws Error when the bytes are not such columns */
export function unpackCells(bytes: ArrayBuffer): LedgerCells {
  const [count = 0, measures = 0, length = 0] = bytes.byteLength >= HEAD ? new Uint32Array(bytes, 0, 3) : []
  if (measures !== MEASURES.length || length % 4 !== 0 || bytes.byteLength !== sizeOf(count, length))
    throw new Error('The ledger’s columns don’t have the length that they say.')
  const names = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, HEAD, length))) as Pick<
    LedgerCells,
    'pages' | 'payers'
  >
  const from = HEAD + length
  const after = from + count * 4 * MEASURES.length
  return {
    ...names,
    count,
    values: Object.fromEntries(
      MEASURES.map((measure, index) => [measure, columnAt(bytes, from, measure, index, count)]),
    ) as LedgerCells['values'],
    page: new Uint16Array(bytes, after, count),
    payer: new Uint16Array(bytes, after + 2 * count, count),
  }
}

const sizeOf = (count: number, names: number) => HEAD + names + count * (4 * MEASURES.length + 4)

/** Columns of four bytes must begin at a multiple of four, whatever letters the names have. */
function padded(json: string): string {
  const length = new TextEncoder().encode(json).length
  return json + ' '.repeat((4 - (length % 4)) % 4)
}

const columnAt = (bytes: ArrayBuffer, from: number, measure: Measure, index: number, count: number) =>
  isTime(measure)
    ? new Float32Array(bytes, from + index * 4 * count, count)
    : new Uint32Array(bytes, from + index * 4 * count, count)

/**
 * The same cells with the indexes of a ledger, whose pages and payers may stand in another order. Cells of a page or payer
 * that the ledger doesn't show are left out.
 */
export function onLedger(
  ledger: { pages: readonly { id: number }[]; payers: readonly { slug: string }[] },
  cells: LedgerCells,
): LedgerCells {
  const pageAt = new Map(ledger.pages.map(({ id }, index) => [id, index]))
  const payerAt = new Map(ledger.payers.map(({ slug }, index) => [slug, index]))
  const pages = Int32Array.from(cells.pages, (id) => pageAt.get(id) ?? -1)
  const payers = Int32Array.from(cells.payers, (slug) => payerAt.get(slug) ?? -1)
  const whole = !pages.includes(-1) && !payers.includes(-1)
  const kept: number[] = []
  if (!whole)
    for (let i = 0; i < cells.count; i++) if (pages[cells.page[i]!]! >= 0 && payers[cells.payer[i]!]! >= 0) kept.push(i)
  const count = whole ? cells.count : kept.length
  const from = whole ? (i: number) => i : (i: number) => kept[i]!
  const page = new Uint16Array(count)
  const payer = new Uint16Array(count)
  for (let i = 0; i < count; i++) {
    page[i] = pages[cells.page[from(i)]!]!
    payer[i] = payers[cells.payer[from(i)]!]!
  }
  return {
    pages: ledger.pages.map(({ id }) => id),
    payers: ledger.payers.map(({ slug }) => slug),
    count,
    page,
    payer,
    values: whole
      ? cells.values
      : (Object.fromEntries(
          MEASURES.map((measure) => [measure, pickedOf(cells.values[measure], kept)]),
        ) as LedgerCells['values']),
  }
}

function pickedOf(column: Uint32Array | Float32Array, kept: readonly number[]): Uint32Array | Float32Array {
  const some = column instanceof Float32Array ? new Float32Array(kept.length) : new Uint32Array(kept.length)
  kept.forEach((from, to) => (some[to] = column[from]!))
  return some
}
