import fc from 'fast-check'
import { cellNear, isOnCells, paceBeyond, type Window } from '../src/ledger/drag.js'
import { CELL_HEIGHT, CELL_WIDTH, FOOT_HEIGHT, HEAD_HEIGHT, SIDE_WIDTH } from '../src/ledger/measures.js'

const window: Window = { width: 900, height: 700, scrollLeft: 2 * CELL_WIDTH, scrollTop: 10 * CELL_HEIGHT }
const last = { row: 299, column: 1999 }
const point = fc.record({ x: fc.integer({ min: -400, max: 1400 }), y: fc.integer({ min: -400, max: 1200 }) })

describe('a drag over the cells', () => {
  it('reaches the cell below the pointer', () => {
    const at = { x: SIDE_WIDTH + 2.5 * CELL_WIDTH, y: HEAD_HEIGHT + 3.5 * CELL_HEIGHT }
    expect(cellNear(at, window, last)).toEqual({ row: 13, column: 4 })
    expect(paceBeyond(at, window)).toEqual({ x: 0, y: 0 })
  })

  it('reaches the nearest cell in sight from anywhere, and never one that is not there', () => {
    fc.assert(
      fc.property(point, fc.nat(20), fc.nat(20), (at, row, column) => {
        const found = cellNear(at, window, { row, column })
        expect(found.row >= 0 && found.row <= row && found.column >= 0 && found.column <= column).toBe(true)
        const { row: down, column: along } = cellNear(at, window, last)
        expect(down * CELL_HEIGHT).toBeLessThan(window.scrollTop + window.height - FOOT_HEIGHT - HEAD_HEIGHT)
        expect((down + 1) * CELL_HEIGHT).toBeGreaterThan(window.scrollTop)
        expect(along * CELL_WIDTH).toBeLessThan(window.scrollLeft + window.width - SIDE_WIDTH)
        expect((along + 1) * CELL_WIDTH).toBeGreaterThan(window.scrollLeft)
      }),
    )
  })

  it('scrolls beyond an edge only, towards the pointer, and within bounds', () => {
    fc.assert(
      fc.property(point, (at) => {
        const { x, y } = paceBeyond(at, window)
        if (isOnCells({ x: at.x + 1, y: at.y + 1 }, window) && isOnCells(at, window)) expect([x, y]).toEqual([0, 0])
        if (x !== 0) expect(Math.sign(x)).toBe(at.x < SIDE_WIDTH ? -1 : 1)
        if (y !== 0) expect(Math.sign(y)).toBe(at.y < HEAD_HEIGHT ? -1 : 1)
        expect(Math.max(Math.abs(x), Math.abs(y))).toBeLessThanOrEqual(30)
      }),
    )
  })
})
