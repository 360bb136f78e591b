import fc from 'fast-check'
import { difference, median, medianIndex, repeatability, seeded, sweepNoise } from '../src/index.js'

const values = fc.array(fc.integer({ min: 0, max: 10_000 }), { minLength: 3, maxLength: 15 })
const around = (mean: number, spread: number, n: number, seed: number) => {
  const random = seeded(seed)
  return Array.from({ length: n }, () => mean + (random() - 0.5) * spread)
}

describe('difference', () => {
  it('says in one of four words what can be said', () => {
    const before = around(1000, 100, 15, 1)
    expect(difference(before, around(700, 100, 15, 2)).word).toBe('better')
    expect(difference(before, around(1300, 100, 15, 3)).word).toBe('worse')
    expect(difference(before, around(1000, 100, 15, 4)).word).toBe('no measurable change')
    expect(difference(before, around(940, 20, 15, 5), { threshold: 200 }).word).toBe('too small to matter')
  })

  it('calls nothing certain from one or two readings', () => {
    expect(difference([900, 910], [100, 110])).toMatchObject({
      word: 'no measurable change',
      low: -Infinity,
      high: Infinity,
    })
    expect(() => difference([], [1])).toThrow(RangeError)
  })

  it('is exact where nothing varies, and the same for the same seed', () => {
    expect(difference([27, 27, 27], [25, 25, 25])).toMatchObject({ estimate: -2, low: -2, high: -2, word: 'better' })
    fc.assert(
      fc.property(values, values, (a, b) => {
        expect(difference(a, b, { seed: 7, resamples: 100 })).toEqual(difference(a, b, { seed: 7, resamples: 100 }))
      }),
    )
  })

  it('covers the true difference about as often as it says', () => {
    let covered = 0
    for (let seed = 1; seed <= 200; seed++) {
      const { low, high } = difference(around(500, 200, 11, seed), around(450, 200, 11, seed + 1000), {
        seed,
        resamples: 400,
      })
      if (low <= -50 && high >= -50) covered += 1
    }
    expect(covered / 200).toBeGreaterThan(0.88)
  })
})

describe('median', () => {
  it('stands in the middle', () => {
    fc.assert(
      fc.property(values, (list) => {
        const middle = median(list)
        expect(list.filter((v) => v < middle).length).toBeLessThanOrEqual(list.length / 2)
        expect(list.filter((v) => v > middle).length).toBeLessThanOrEqual(list.length / 2)
        expect(list[medianIndex(list)]).toBeLessThanOrEqual(middle)
      }),
    )
    expect(medianIndex([])).toBe(-1)
    expect(median([])).toBeNaN()
  })
})

describe('repeatability', () => {
  it('says nothing of the noise from one reading or two, and proposes more', () => {
    expect(repeatability([])).toBeNull()
    expect(repeatability([5, 900])).toMatchObject({ uncertainty: null, tooNoisy: true, repeatsNeeded: 5 })
  })

  it('tells steady values from noisy ones, and how many more would do', () => {
    expect(repeatability([1000, 1010, 990, 1005])).toMatchObject({ tooNoisy: false, repeatsNeeded: null })
    const noisy = repeatability([500, 1000, 1500, 800, 1300])!
    expect(noisy).toMatchObject({ least: 500, most: 1500, tooNoisy: true })
    expect(noisy.repeatsNeeded).toBeGreaterThan(5)
  })

  it('knows a median the better the more repeats there are, never proposes fewer, and does not hang on scale', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 5000 }), { minLength: 3, maxLength: 30 }), (values) => {
        const once = repeatability(values)!
        const many = repeatability([...values, ...values, ...values, ...values])!
        expect(many.uncertainty).toBeLessThanOrEqual(once.uncertainty! + 1e-9 + (once.most - once.least) * 0.25)
        if (once.repeatsNeeded !== null)
          expect(once.repeatsNeeded).toBeGreaterThan(values.length >= 50 ? 49 : values.length)
        expect(repeatability(values.map((v) => v * 8))!.tooNoisy).toBe(once.tooNoisy)
      }),
      // Each draws thousands of samples.
      { numRuns: 30 },
    )
  })
})

describe('the noise of a sweep', () => {
  const [steady, noisy] = [
    [100, 101, 99],
    [100, 300, 500],
  ]

  it('counts the pages that vary too much, and proposes what would do for the middle one of them', () => {
    expect(sweepNoise([steady, noisy, [], noisy])).toEqual({
      pages: 3,
      tooNoisy: 2,
      repeatsNeeded: repeatability(noisy)!.repeatsNeeded,
    })
    expect(sweepNoise([steady, steady])).toEqual({ pages: 2, tooNoisy: 0, repeatsNeeded: null })
    expect(sweepNoise([])).toEqual({ pages: 0, tooNoisy: 0, repeatsNeeded: null })
  })

  it('takes single readings for too noisy, whatever they say', () => {
    expect(sweepNoise([[100], [200]])).toMatchObject({ tooNoisy: 2, repeatsNeeded: 5 })
  })
})
