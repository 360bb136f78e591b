import 'reflect-metadata'
import fc from 'fast-check'
import { paintFar, pixelOf } from '../src/ledger/far/far-field.js'
import { APART_PX, LEAST_NAMED_PX, namedRows } from '../src/ledger/far/named-rows.js'
import {
  bandsOf,
  cellSize,
  cellUnder,
  kept,
  MOST_HIGH,
  MOST_WIDE,
  moved,
  mostZoom,
  showing,
  WHOLE,
  zoomed,
} from '../src/ledger/far/far-window.js'

const room = { width: 800, height: 500 }
const counts = fc.record({ rows: fc.integer({ min: 1, max: 400 }), columns: fc.integer({ min: 1, max: 3_000 }) })

describe('the far view’s window', () => {
  it('shows all of it at first, however many there are', () => {
    fc.assert(
      fc.property(counts, (count) => {
        const cell = cellSize(room, count, 1)
        expect(cell.width * count.columns).toBeLessThanOrEqual(room.width + 1e-6)
        expect(cell.height * count.rows).toBeLessThanOrEqual(room.height + 1e-6)
        expect(cellUnder(WHOLE, { x: 0, y: 0 }, room, count)).toEqual({ row: 0, column: 0 })
      }),
    )
  })

  it('goes nearer with what lies under the pointer staying there, never beyond its edges or the close view’s size', () => {
    fc.assert(
      fc.property(
        counts,
        fc.integer({ min: 0, max: 799 }),
        fc.integer({ min: 0, max: 499 }),
        fc.double({ min: 1.1, max: 60, noNaN: true }),
        (count, x, y, factor) => {
          const near = zoomed(WHOLE, factor, { x, y }, room, count)
          const cell = cellSize(room, count, near.zoom)
          expect(cell.width).toBeLessThanOrEqual(MOST_WIDE)
          expect(cell.height).toBeLessThanOrEqual(MOST_HIGH)
          expect(near.zoom).toBeLessThanOrEqual(mostZoom(room, count))
          expect(kept(near, room, count)).toEqual(near)
          // Back again it is the whole.
          expect(zoomed(near, 1e-6, { x, y }, room, count)).toEqual(WHOLE)
        },
      ),
    )
    // 120 rows in 500 pixels do not divide evenly, and left a trillionth of a row to scroll by.
    const uneven = { rows: 120, columns: 1 }
    expect(zoomed(zoomed(WHOLE, 4.8, { x: 0, y: 7 }, room, uneven), 1e-6, { x: 0, y: 7 }, room, uneven)).toEqual(WHOLE)
    const count = { rows: 300, columns: 2_000 }
    const point = { x: 400, y: 250 }
    const before = cellUnder(WHOLE, point, room, count)
    expect(cellUnder(zoomed(WHOLE, 3, point, room, count), point, room, count)).toEqual(before)
  })

  it('brings a cell into sight by no more than it takes, and moves with the hand', () => {
    fc.assert(
      fc.property(counts, fc.nat(), fc.nat(), (count, a, b) => {
        const at = { row: a % count.rows, column: b % count.columns }
        const near = zoomed(WHOLE, mostZoom(room, count), { x: 0, y: 0 }, room, count)
        const shown = showing(near, at, room, count)
        const cell = cellSize(room, count, shown.zoom)
        const middle = {
          x: (at.column + 0.5 - shown.column) * cell.width,
          y: (at.row + 0.5 - shown.row) * cell.height,
        }
        expect(cellUnder(shown, middle, room, count)).toEqual(at)
        expect(middle.x).toBeLessThanOrEqual(room.width)
        expect(middle.y).toBeLessThanOrEqual(room.height)
        expect(showing(shown, at, room, count)).toEqual(shown)
      }),
    )
    const count = { rows: 300, columns: 2_000 }
    const near = zoomed(WHOLE, 8, { x: 400, y: 250 }, room, count)
    const cell = cellSize(room, count, near.zoom)
    expect(moved(near, -cell.width * 5, 0, room, count).column).toBeCloseTo(near.column + 5)
    expect(moved(near, 1e9, 1e9, room, count)).toMatchObject({ row: 0, column: 0 })
  })
})

describe('how cells fall on pixels', () => {
  it('every cell in sight has its pixels, and no pixel two strips', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 2_000 }),
        fc.double({ min: 0.05, max: 30, noNaN: true }),
        fc.integer({ min: 1, max: 900 }),
        (count, size, length) => {
          const bands = bandsOf(0, size, length, count)
          for (const [n, band] of bands.entries()) {
            expect(band.to).toBeGreaterThan(band.from)
            expect(band.to).toBeLessThanOrEqual(length)
            if (n > 0) expect(band.from).toBeGreaterThanOrEqual(bands[n - 1]!.to)
            expect(band.last).toBeGreaterThanOrEqual(band.first)
          }
          const seen = Math.min(count, Math.floor(length / size))
          const shown = new Set(bands.flatMap(({ first, last }) => [first, last]))
          if (size >= 1) for (let n = 0; n < seen; n++) expect(shown.has(n)).toBe(true)
          else expect(bands.at(-1)!.last).toBeGreaterThanOrEqual(seen - 1)
        },
      ),
    )
  })

  it('one dark cell among thousands on a pixel is still dark', () => {
    const strength = new Float32Array(10 * 5_000)
    strength[3 * 5_000 + 4_321] = 1
    const field = { rows: 10, columns: 5_000, strength }
    const bands: [ReturnType<typeof bandsOf>, ReturnType<typeof bandsOf>] = [
      bandsOf(0, 1, 10, 10),
      bandsOf(0, 0.02, 100, 5_000),
    ]
    const [paper, weak, strong] = [pixelOf('#ffffff'), pixelOf('#eeeeee'), pixelOf('#102030')]
    const pixels = paintFar(field, { width: 100, height: 10 }, bands, [weak, strong], paper)
    expect([...pixels].filter((pixel) => pixel !== paper)).toEqual([strong])
    expect(pixels[3 * 100 + 86]).toBe(strong)
    expect(pixelOf('#102030')).toBe(0xff302010)
  })
})

describe('the names beside the far view', () => {
  const rows = fc.record({
    count: fc.integer({ min: 1, max: 400 }),
    height: fc.double({ min: 0.5, max: MOST_HIGH, noNaN: true }),
    first: fc.double({ min: 0, max: 300, noNaN: true }),
    told: fc.option(fc.nat(399)),
    groups: fc.uniqueArray(fc.nat(399), { maxLength: 8 }),
  })
  const named = ({ count, height, first, told, groups }: typeof rows extends fc.Arbitrary<infer T> ? T : never) =>
    namedRows(
      count,
      { first, last: first + 500 / height },
      height,
      told !== null && told < count ? told : null,
      (row) => groups.includes(row),
    )
  it('never lie upon each other, and are of rows that are there', () =>
    fc.assert(
      fc.property(rows, (given) => {
        const all = named(given)
        all.forEach((row, n) => {
          expect(row).toBeLessThan(given.count)
          if (n > 0)
            expect((row - all[n - 1]!) * given.height).toBeGreaterThanOrEqual(
              given.height >= LEAST_NAMED_PX ? given.height : APART_PX,
            )
        })
      }),
    ))
  it('tell of the row that is looked at, and of every row that is high enough', () => {
    expect(namedRows(300, { first: 0, last: 300 }, 2, 41, () => false)).toContain(41)
    expect(namedRows(20, { first: 0, last: 20 }, 14, null, () => false)).toHaveLength(20)
    expect(namedRows(300, { first: 0, last: 300 }, 2, null, () => false).length).toBeGreaterThan(20)
  })
})
