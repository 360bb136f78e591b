import 'reflect-metadata'
import fc from 'fast-check'
import { isTime, MEASURES, onLedger, packCells, unpackCells } from '../src/index.js'

const cell = fc.record({
  page: fc.nat(2),
  payer: fc.nat(1),
  count: fc.nat(4_294_967_295),
  ms: fc.float({ noNaN: true, noDefaultInfinity: true, min: 0 }),
})
const names = fc.record({
  pages: fc.uniqueArray(fc.nat(99), { minLength: 3, maxLength: 3 }),
  payers: fc.uniqueArray(fc.string(), { minLength: 2, maxLength: 2 }),
})
type Cell = { page: number; payer: number; count: number; ms: number }
const valuesOf = (cells: readonly Cell[]) =>
  Object.fromEntries(
    MEASURES.map((measure) => [measure, cells.map(({ count, ms }) => (isTime(measure) ? ms : count))]),
  ) as Parameters<typeof packCells>[3]
const packed = (told: { pages: number[]; payers: string[] }, cells: readonly Cell[]) =>
  packCells(
    told,
    cells.map((c) => c.page),
    cells.map((c) => c.payer),
    valuesOf(cells),
  ).buffer as ArrayBuffer

it('cells come out of their bytes as they went in, whatever the names are', () =>
  fc.assert(
    fc.property(names, fc.array(cell), (told, cells) => {
      const out = unpackCells(packed(told, cells))
      expect([out.pages, out.payers, out.count, [...out.page], [...out.payer]]).toEqual([
        told.pages,
        told.payers,
        cells.length,
        cells.map((c) => c.page),
        cells.map((c) => c.payer),
      ])
      for (const measure of MEASURES) expect([...out.values[measure]]).toEqual(valuesOf(cells)[measure])
    }),
  ))

it('cells stand where a ledger of another order has their pages and payers, and only those it shows', () =>
  fc.assert(
    fc.property(names, fc.array(cell), fc.boolean(), (told, cells, whole) => {
      const ledger = {
        pages: [...told.pages]
          .reverse()
          .slice(whole ? 0 : 1)
          .map((id) => ({ id })),
        payers: [...told.payers].reverse().map((slug) => ({ slug })),
      }
      const out = onLedger(ledger, unpackCells(packed(told, cells)))
      const shown = cells.filter(({ page }) => ledger.pages.some(({ id }) => id === told.pages[page]))
      expect(
        Array.from({ length: out.count }, (_, i) => [
          ledger.pages[out.page[i]!]!.id,
          ledger.payers[out.payer[i]!]!.slug,
          out.values.requests[i],
        ]),
      ).toEqual(shown.map(({ page, payer, count }) => [told.pages[page], told.payers[payer], count]))
    }),
  ))

it.each([0, 7, 13, 100])('%i bytes that are no cells are refused', (size) =>
  expect(() => unpackCells(new Uint8Array(size).fill(1).buffer)).toThrow('length'),
)
