import fc from 'fast-check'
import {
  attribute,
  idleByRequest,
  inlineIdle,
  MEASURES,
  pageTolls,
  readingTotals,
  serverTolls,
  sumTolls,
  tolls,
} from '../src/index.js'
import { anyReading, anySources } from './reading-arbitrary.js'

describe('tolls', () => {
  it('add up to the page in requests, transfer and decoded bytes, whatever the site sends', () => {
    fc.assert(
      fc.property(anyReading, anySources, (reading, sources) => {
        const sum = sumTolls(tolls(reading, attribute(reading, sources)))
        expect(sum).toMatchObject(readingTotals(reading))
      }),
      { numRuns: 500 },
    )
  })

  it('charge every request to exactly one payer', () => {
    fc.assert(
      fc.property(anyReading, anySources, (reading, sources) => {
        const { requests } = attribute(reading, sources)
        expect([...requests.keys()].sort()).toEqual(reading.requests.map((r) => r.id).sort())
        for (const { payer, because } of requests.values())
          expect([payer, because].every((text) => text.length > 0)).toBe(true)
      }),
    )
  })

  it('add up to the page in idle bytes and main-thread time', () => {
    fc.assert(
      fc.property(anyReading, anySources, (reading, sources) => {
        const sum = sumTolls(tolls(reading, attribute(reading, sources)))
        const idle = [...idleByRequest(reading).values(), ...inlineIdle(reading)].reduce((all, bytes) => all + bytes, 0)
        expect(sum.idleBytes).toBe(idle)
        expect(sum.idleBytes).toBeLessThanOrEqual(sum.decodedBytes)
        expect(sum.mainThreadMs).toBeCloseTo(
          reading.mainThread.reduce((all, { ms }) => all + ms, 0),
          6,
        )
      }),
      { numRuns: 500 },
    )
  })

  it('never charge a payer with less than nothing', () => {
    fc.assert(
      fc.property(anyReading, anySources, (reading, sources) => {
        for (const toll of tolls(reading, attribute(reading, sources)))
          for (const measure of MEASURES) expect(toll[measure]).toBeGreaterThanOrEqual(0)
      }),
    )
  })

  it('add up to the server’s own total, the rest included, whatever is claimed', () => {
    fc.assert(
      fc.property(anyReading, ({ serverTiming }) => {
        const total = serverTiming.find((entry) => entry.name === 'total')?.duration
        const byPayer = serverTolls(serverTiming)
        if (total == null) return expect(byPayer).toBeNull()
        const sum = [...byPayer!.values()].reduce((all, toll) => all + toll.serverMs, 0)
        // Whoever claims more than there was is believed in proportion.
        expect(sum).toBeCloseTo(total, 6)
      }),
    )
  })
})

describe('pageTolls', () => {
  it('agree with the median of the page totals to the byte', () => {
    fc.assert(
      fc.property(fc.array(anyReading, { minLength: 1, maxLength: 5 }), anySources, (readings, sources) => {
        const repeats = readings.map((reading) => tolls(reading, attribute(reading, sources)))
        const sum = sumTolls(pageTolls(repeats))
        for (const measure of MEASURES) {
          const totals = repeats.map((list) => sumTolls(list)[measure]).sort((a, b) => a - b)
          expect(sum[measure]).toBeCloseTo(totals[(totals.length - 1) >> 1]!, 6)
        }
      }),
    )
  })

  it('take times from the repeats whose times count, and all else from all', () => {
    fc.assert(
      fc.property(
        fc.array(anyReading, { minLength: 1, maxLength: 4 }),
        fc.array(anyReading, { minLength: 1, maxLength: 4 }),
        anySources,
        (others, counting, sources) => {
          const of = (readings: Reading[]) => readings.map((reading) => tolls(reading, attribute(reading, sources)))
          const sum = sumTolls(
            pageTolls(of([...others, ...counting]), [...others.map(() => false), ...counting.map(() => true)]),
          )
          const [all, timed] = [sumTolls(pageTolls(of([...others, ...counting]))), sumTolls(pageTolls(of(counting)))]
          for (const measure of ['mainThreadMs', 'serverMs', 'queryMs'] as const)
            expect(sum[measure]).toBeCloseTo(timed[measure], 6)
          for (const measure of ['requests', 'transferBytes', 'decodedBytes', 'idleBytes', 'queries'] as const)
            expect(sum[measure]).toBe(all[measure])
        },
      ),
    )
  })

  it('are none without a reading', () => expect(pageTolls([])).toEqual([]))
})
