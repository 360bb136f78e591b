import { unpackCells, type LedgerCells } from '@unvelt/contract'
import type { CostColumns } from '@unvelt/core'
import { bufferOf } from './buffer-of.js'

const SUMMED = ['requests', 'transferBytes', 'idleBytes', 'decodedBytes', 'mainThreadMs', 'serverMs'] as const
export type SummedMeasure = (typeof SUMMED)[number]

/** What the cells of a sweep come to by page and by payer, and each payer's own, in the order of `pages` and `payers`. */
export interface SummedCells {
  pages: readonly number[]
  payers: readonly string[]
  byPage: Record<SummedMeasure, Float64Array>
  byPayer: Record<SummedMeasure, Float64Array>
  of: readonly CostColumns[]
}

/** For as long as a pack stays in memory. */
const known = new WeakMap<Uint8Array, SummedCells>()

export function summedCells(packed: Uint8Array): SummedCells {
  const before = known.get(packed)
  if (before) return before
  const cells = unpackCells(bufferOf(packed))
  const { pages, payers } = cells
  const made = {
    pages,
    payers,
    byPage: sumsBy(cells, 'page'),
    byPayer: sumsBy(cells, 'payer'),
    of: payerByPayer(cells),
  }
  known.set(packed, made)
  return made
}

function sumsBy(cells: LedgerCells, by: 'page' | 'payer'): SummedCells['byPage'] {
  const at = cells[by]
  const many = cells[by === 'page' ? 'pages' : 'payers'].length
  const sums = SUMMED.map((measure) => {
    const sum = new Float64Array(many)
    const column = cells.values[measure]
    for (let i = 0; i < cells.count; i++) sum[at[i]!]! += column[i]!
    return [measure, sum]
  })
  return Object.fromEntries(sums) as SummedCells['byPage']
}

/** Each payer's cells side by side: of those of a whole sweep that lie page by page, every one would be fetched by itself. */
function payerByPayer({ count, payer, page, payers, values }: LedgerCells): CostColumns[] {
  const ends = new Uint32Array(payers.length)
  for (let i = 0; i < count; i++) ends[payer[i]!]!++
  let sum = 0
  for (let n = 0; n < ends.length; n++) sum = ends[n] = sum + ends[n]!
  const order = new Uint32Array(count)
  const next = ends.slice()
  for (let i = count - 1; i >= 0; i--) order[--next[payer[i]!]!] = i
  const sorted = (column: Uint16Array | Uint32Array | Float32Array) => {
    const made = column.slice()
    for (let i = 0; i < count; i++) made[i] = column[order[i]!]!
    return made
  }
  const all = {
    page: sorted(page),
    requests: sorted(values.requests),
    transferBytes: sorted(values.transferBytes),
    serverMs: sorted(values.serverMs),
    mainThreadMs: sorted(values.mainThreadMs),
  }
  return payers.map((_, n) => {
    const own = (column: Uint16Array | Uint32Array | Float32Array) => column.subarray(next[n], ends[n])
    return {
      page: own(all.page),
      values: {
        requests: own(all.requests),
        transferBytes: own(all.transferBytes),
        serverMs: own(all.serverMs),
        mainThreadMs: own(all.mainThreadMs),
      },
    }
  })
}
