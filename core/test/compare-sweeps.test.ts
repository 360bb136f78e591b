import fc from 'fast-check'
import {
  compareSweeps,
  MEASURES,
  meanStep,
  median,
  seeded,
  type Figures,
  type Measure,
  type SweptCells,
} from '../src/index.js'

const PATHS = ['/', '/donate', '/shop', '/trees/oak', '/trees/ash', '/archive']
const PAYERS = ['content', 'canopy-slider', 'outside:heronmark', 'pass-it-on']

const swept = (tolls: { page: string; payer: string; requests: number }[], pages: string[] = PATHS): SweptCells => {
  const within = tolls.filter(({ page }) => pages.includes(page))
  const of = (n: number) => within.map(({ requests }) => requests * n)
  return {
    pages,
    payers: PAYERS,
    count: within.length,
    page: within.map(({ page }) => pages.indexOf(page)),
    payer: within.map(({ payer }) => PAYERS.indexOf(payer)),
    values: Object.fromEntries(MEASURES.map((measure, n) => [measure, of(n + 1)])) as Record<Measure, number[]>,
  }
}
const sweeps = fc
  .record({
    pages: fc.uniqueArray(fc.constantFrom(...PATHS), { minLength: 0 }),
    tolls: fc.array(
      fc.record({
        page: fc.constantFrom(...PATHS),
        payer: fc.constantFrom(...PAYERS),
        requests: fc.integer({ min: 0, max: 500 }),
      }),
      { maxLength: 30 },
    ),
  })
  .map(({ pages, tolls }) => swept(tolls, pages))
const weights = fc.dictionary(fc.constantFrom(...PATHS), fc.integer({ min: 0, max: 9_000 }))

const close = (a: Figures, b: Figures) => {
  for (const measure of MEASURES) expect(a[measure]).toBeCloseTo(b[measure], 6)
}
const added = (list: { figures: Figures; weight: number }[]): Figures =>
  Object.fromEntries(
    MEASURES.map((m) => [m, list.reduce((sum, { figures, weight }) => sum + figures[m] * weight, 0)]),
  ) as Figures

describe('two sweeps side by side', () => {
  it('says what a page costs less, over what both have read, and names the rest', () => {
    const then = swept([
      { page: '/', payer: 'pass-it-on', requests: 12 },
      { page: '/', payer: 'content', requests: 3 },
      { page: '/donate', payer: 'content', requests: 5 },
    ])
    const now = swept([{ page: '/', payer: 'content', requests: 3 }], ['/', '/new'])
    const { pages, onlyNow, onlyThen, mean, payers } = compareSweeps(then, now)
    expect(pages.map(({ path }) => path)).toEqual(['/'])
    expect(onlyNow).toEqual(['/new'])
    expect(onlyThen).toEqual(PATHS.slice(1))
    expect(mean).toMatchObject({ then: { requests: 15, transferBytes: 30 }, now: { requests: 3 } })
    expect(payers.find(({ slug }) => slug === 'pass-it-on')).toMatchObject({
      then: { requests: 12 },
      now: { requests: 0 },
    })
  })

  it('pages count by their weight, all alike where none has any, and whoever is not to count does not', () => {
    const then = swept([{ page: '/', payer: 'content', requests: 10 }])
    const now = swept([
      { page: '/', payer: 'content', requests: 10 },
      { page: '/', payer: 'outside:heronmark', requests: 30 },
    ])
    const weightOf = (path: string) => (path === '/' ? 3 : path === '/shop' ? 1 : 0)
    expect(compareSweeps(then, now, { weightOf }).mean).toMatchObject({
      then: { requests: 7.5 },
      now: { requests: 30 },
    })
    expect(compareSweeps(then, now, { weightOf: () => 0 }).pages.map(({ weight }) => weight)).toEqual(
      PATHS.map(() => 1 / PATHS.length),
    )
    const inside = compareSweeps(then, now, { counts: (payer) => !payer.startsWith('outside:') })
    expect(inside.mean.now).toEqual(inside.mean.then)
  })

  it('payers and pages add up to the mean page, a sweep does not differ from itself, and sides can be swapped', () => {
    fc.assert(
      fc.property(sweeps, sweeps, weights, (then, now, weight) => {
        const weightOf = (path: string) => weight[path] ?? 0
        const found = compareSweeps(then, now, { weightOf })
        for (const side of ['then', 'now'] as const) {
          close(added(found.payers.map((payer) => ({ figures: payer[side], weight: 1 }))), found.mean[side])
          close(added(found.pages.map((page) => ({ figures: page[side], weight: page.weight }))), found.mean[side])
        }
        const swapped = compareSweeps(now, then, { weightOf })
        expect(swapped.onlyNow).toEqual(found.onlyThen)
        close(swapped.mean.then, found.mean.now)
        const same = compareSweeps(now, now, { weightOf })
        expect(same.mean.then).toEqual(same.mean.now)
      }),
    )
  })
})

describe('what the mean page differs by in a time', () => {
  const normal = (random: () => number) => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())

  it('holds the truth 95 times of 100, however differently pages vary, and finds no change where there is none', () => {
    const random = seeded(20_261_130)
    const runs = 2_000
    let [held, falseWords] = [0, 0]
    for (let run = 0; run < runs; run++) {
      const pages = Array.from({ length: 8 }, (_, n) => {
        const times = (mean: number, spread: number, count: number) =>
          Array.from({ length: count }, () => mean + spread * normal(random))
        return { weight: (n + 1) / 36, then: times(900 + n, 20 + 30 * n, 3), now: times(850 + n, 60, 2 + (n % 3)) }
      })
      const step = meanStep(pages)!
      if (step.low <= -50 && step.high >= -50) held++
      const same = meanStep(pages.map(({ weight, then, now }) => ({ weight, then, now: now.map((v) => v + 50) })))!
      if (same.p < 0.05) falseWords++
    }
    expect(held / runs).toBeGreaterThanOrEqual(0.94)
    expect(falseWords / runs).toBeLessThanOrEqual(0.06)
  })

  it('says nothing of what was read once, and leaves such a page out of the rest', () => {
    expect(meanStep([{ weight: 1, then: [1], now: [2, 3] }])).toBeNull()
    expect(meanStep([])).toBeNull()
    const step = meanStep([
      { weight: 0.5, then: [10], now: [99, 98] },
      { weight: 0.5, then: [10, 12], now: [20, 22] },
    ])!
    expect(step).toMatchObject({ estimate: 10, pages: 1 })
    expect(meanStep([{ weight: 1, then: [5, 5], now: [7, 7] }])).toMatchObject({ estimate: 2, low: -Infinity, p: 1 })
  })

  it('lies within its interval, and turns with its sides', () => {
    const values = fc.array(fc.double({ min: 0, max: 5_000, noNaN: true }), { minLength: 2, maxLength: 6 })
    fc.assert(
      fc.property(
        fc.array(fc.record({ weight: fc.double({ min: 0.01, max: 1, noNaN: true }), then: values, now: values }), {
          minLength: 1,
          maxLength: 8,
        }),
        (pages) => {
          const step = meanStep(pages)!
          expect(step.low).toBeLessThanOrEqual(step.estimate)
          expect(step.high).toBeGreaterThanOrEqual(step.estimate)
          const back = meanStep(pages.map(({ weight, then, now }) => ({ weight, then: now, now: then })))!
          expect(back.estimate).toBeCloseTo(-step.estimate, 6)
          expect(median([step.low, step.estimate, step.high])).toBe(step.estimate)
        },
      ),
    )
  })
})
