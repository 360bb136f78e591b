import { readFileSync } from 'node:fs'
import { wcagContrast, wcagLuminance } from 'culori'
import fc from 'fast-check'
import { paletteOf, shadeOf } from '../src/ledger/paint/palette.js'
import { slotFor, slotsOf, TILE_COLUMNS, TILE_ROWS, tilesFor } from '../src/ledger/paint/tiles.js'

const styles = readFileSync(new URL('../src/look.css', import.meta.url), 'utf8')
const paletteIn = (opening: string) => {
  const block = styles.slice(styles.indexOf(opening))
  return paletteOf((name) => new RegExp(`${name}: (#[0-9a-f]{6})`).exec(block)![1]!)
}

describe.each([
  ['on paper', ':root'],
  ['in the dark', "[data-look='dark'] {"],
])('the colours of cells %s', (_, opening) => {
  const palette = paletteIn(opening)

  it('keep every figure readable on its shade', () => {
    for (const { ground, figure } of palette.shades) expect(wcagContrast(ground, figure)).toBeGreaterThan(4.5)
  })

  it('go one way in lightness, so that greyscale tells them apart', () => {
    const lightness = palette.shades.map(({ ground }) => wcagLuminance(ground))
    const steps = lightness.slice(1).map((each, n) => Math.sign(each - lightness[n]!))
    expect(new Set(steps).size).toBe(1)
  })

  it('begin with the least toll and end with the most', () => {
    expect(shadeOf(palette, 1e-9, 500)).toBe(palette.shades[0])
    expect(shadeOf(palette, 500, 500)).toBe(palette.shades.at(-1))
    expect(shadeOf(palette, 900, 500)).toBe(palette.shades.at(-1))
  })
})

describe('tiles', () => {
  const size = fc.integer({ min: 0, max: 90 })

  it('cover every cell in sight once, and none that is not there', () => {
    fc.assert(
      fc.property(size, size, size, size, size, size, (rows, columns, top, high, left, wide) => {
        const seen = new Map<string, number>()
        const down = { first: top, last: top + high }
        const across = { first: left, last: left + wide }
        for (const tile of tilesFor(down, across, { rows, columns }))
          for (let row = tile.row; row < tile.row + tile.rows; row++)
            for (let column = tile.column; column < tile.column + tile.columns; column++) {
              expect(row < rows && column < columns).toBe(true)
              seen.set(`${row} ${column}`, (seen.get(`${row} ${column}`) ?? 0) + 1)
            }
        expect([...seen.values()].every((times) => times === 1)).toBe(true)
        for (let row = down.first; row <= down.last && row < rows; row++)
          for (let column = across.first; column <= across.last && column < columns; column++)
            expect(seen.has(`${row} ${column}`)).toBe(true)
      }),
    )
  })

  it('that may be shown together have canvases of their own, and no more canvases than that are made', () => {
    fc.assert(
      fc.property(size, size, size, size, (top, high, left, wide) => {
        const down = { first: top, last: top + high }
        const across = { first: left, last: left + wide }
        const tiles = tilesFor(down, across, { rows: 1000, columns: 1000 })
        const counted = slotsOf(down, across, { down: 0, along: 0 })
        const slot = (tile: (typeof tiles)[number]) => slotFor(tile, counted)
        expect(new Set(tiles.map(slot)).size).toBe(tiles.length)
        // Another place, as large: the same canvases do.
        const further = { first: top + 37, last: top + high + 37 }
        const slots = new Set([...tiles, ...tilesFor(further, across, { rows: 1000, columns: 1000 })].map(slot))
        const most = (span: number, tile: number) => Math.ceil(span / tile) + 1
        expect(slots.size).toBeLessThanOrEqual(most(high + 1, TILE_ROWS) * most(wide + 1, TILE_COLUMNS))
      }),
    )
  })

  it('stay on their canvases while one cell more and one cell less is in sight', () => {
    fc.assert(
      fc.property(size, size, size, size, (top, high, left, wide) => {
        const span = (first: number, length: number) => ({ first, last: first + length })
        let slots = slotsOf(span(top, high), span(left, wide), { down: 0, along: 0 })
        slots = slotsOf(span(top, high + 1), span(left, wide + 1), slots)
        const most = slots
        for (let n = 0; n < 4; n++) {
          slots = slotsOf(span(top + n, high + (n % 2)), span(left + n, wide + (n % 2)), slots)
          expect(slots).toEqual(most)
        }
      }),
    )
  })
})
