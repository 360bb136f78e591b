import fc from 'fast-check'
import { knee } from '../src/weigh/knee.js'
import { WEIGHED, weighFigures } from '../src/weigh/weigh-figures.js'
import { NO_SOURCES, noToll, payerDifferences } from '../src/index.js'
import { reading, record } from './reading-arbitrary.js'

describe('the knee of a curve', () => {
  const curve = (...pairs: [number, number][]) => pairs.map(([value, cost]) => ({ value, cost }))

  it('is where it bends most', () => {
    expect(knee(curve([1, 10], [5, 11], [10, 12], [20, 60], [50, 180]))).toBe(10)
    expect(knee(curve([1, 0], [2, 50], [3, 90], [10, 100]))).toBe(3)
    // In whatever order they were read.
    expect(knee(curve([20, 60], [1, 10], [50, 180], [10, 12], [5, 11]))).toBe(10)
  })

  it('is none where costs run straight, or where too little is known', () => {
    expect(knee(curve([1, 10], [2, 20], [4, 40]))).toBeNull()
    expect(knee(curve([1, 10], [2, 10], [4, 10]))).toBeNull()
    expect(knee(curve([1, 10], [2, 90]))).toBeNull()
    expect(knee(curve([1, 10], [2, Number.NaN], [4, 40]))).toBeNull()
    expect(knee([])).toBeNull()
  })

  it('does not depend on the units of either axis, and is one of the values between the ends', () => {
    const points = fc.uniqueArray(
      fc.record({ value: fc.integer({ min: 1, max: 500 }), cost: fc.integer({ min: 0, max: 10_000 }) }),
      { selector: ({ value }) => value, minLength: 3, maxLength: 12 },
    )
    fc.assert(
      fc.property(points, (given) => {
        const found = knee(given)
        expect(knee(given.map(({ value, cost }) => ({ value: value * 4, cost: cost * 1024 + 8192 })))).toBe(
          found === null ? null : found * 4,
        )
        if (found === null) return
        const values = given.map(({ value }) => value)
        expect(values).toContain(found)
        expect(found).toBeGreaterThan(Math.min(...values))
        expect(found).toBeLessThan(Math.max(...values))
      }),
    )
  })
})

describe('what a reading is weighed by', () => {
  const page = (more: object = {}) => ({
    ...reading([
      record('1', { url: 'https://site.example/', type: 'document' }),
      record('2', { url: 'https://a.example/x.js' }),
      record('3', { url: 'https://a.example/y.js' }),
      record('4', { url: 'https://b.example/z.js' }),
    ]),
    ...more,
  })
  const sources = { ...NO_SOURCES, ownHosts: ['site.example'] }

  it('counts hosts of others once each, and tells times only of timed readings, idle bytes only of those that looked', () => {
    const clean = weighFigures(page({ clean: true }), sources)
    expect(clean).toMatchObject({ requests: 4, outsiders: 2, idleBytes: null, serverMs: null, queries: null })
    expect(clean.mainThreadMs).not.toBeNull()
    const looking = weighFigures(page({ untimed: true }), sources)
    expect(looking).toMatchObject({
      requests: 4,
      mainThreadMs: null,
      blockingMs: null,
      loadMs: null,
      largestPaintMs: null,
    })
    expect(looking.idleBytes).not.toBeNull()
    expect(Object.keys(looking).sort()).toEqual([...WEIGHED].sort())
  })
})

describe('who pays for a difference', () => {
  const toll = fc.record({ payer: fc.constantFrom('a', 'b', 'c'), requests: fc.nat(9), transferBytes: fc.nat(9_000) })
  const load = fc
    .uniqueArray(toll, { selector: ({ payer }) => payer })
    .map((tolls) => tolls.map((one) => ({ ...noToll(one.payer), ...one })))
  it('adds up to the whole difference, and names nobody who costs the same', () => {
    fc.assert(
      fc.property(load, load, (before, after) => {
        const found = payerDifferences(before, after)
        for (const measure of ['requests', 'transferBytes'] as const) {
          const sum = (tolls: readonly { requests: number; transferBytes: number }[]) =>
            tolls.reduce((all, one) => all + one[measure], 0)
          expect(sum(found)).toBe(sum(after) - sum(before))
        }
        for (const { requests, transferBytes } of found) expect(requests !== 0 || transferBytes !== 0).toBe(true)
        expect(payerDifferences(after, after)).toEqual([])
      }),
    )
  })
})
