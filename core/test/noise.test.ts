import fc from 'fast-check'
import { difference, differences, median, medianIndex, repeatability, seeded, sweepNoise } from '../src/index.js'
import { student95, studentP } from '../src/noise/student.js'

const values = fc.array(fc.integer({ min: 0, max: 10_000 }), { minLength: 3, maxLength: 15 })
const around = (mean: number, spread: number, n: number, seed: number) => {
  const random = seeded(seed)
  return Array.from({ length: n }, () => mean + (random() - 0.5) * spread)
}

describe('difference', () => {
  it('says in one of its words what can be said', () => {
    const before = around(1000, 100, 15, 1)
    expect(difference(before, around(700, 100, 15, 2)).word).toBe('better')
    expect(difference(before, around(1300, 100, 15, 3)).word).toBe('worse')
    expect(difference(before, around(1000, 100, 15, 4)).word).toBe('no measurable change')
    expect(difference(before, around(940, 20, 15, 5), { threshold: 200 }).word).toBe('too small to matter')
  })

  it('gives no word to what varies below five readings a side, and says how many more it takes', () => {
    for (const n of [1, 2, 3, 4])
      expect(difference(around(900, 9, n, 1), around(100, 9, 5, 2))).toMatchObject({
        word: 'too few readings',
        more: 5 - n,
      })
    expect(difference([900, 910], [100, 110])).toMatchObject({ low: -Infinity, high: Infinity, p: 1 })
    // Three of a kind on either side are no certainty: a clock may show whole units only.
    expect(difference([100, 100, 100], [101, 101, 101]).word).toBe('too few readings')
    expect(difference(Array<number>(5).fill(100), Array<number>(5).fill(101)).word).toBe('no measurable change')
  })

  it('is exact for a count that never varied, and only for that', () => {
    const exact = { exact: true }
    const fewer = difference([27, 27, 27], [25, 25, 25], exact)
    expect(fewer).toMatchObject({ estimate: -2, low: -2, high: -2, word: 'better' })
    expect(difference([27, 27, 27], [27, 27, 27], exact)).toMatchObject({ word: 'no measurable change', more: 0 })
    expect(difference([27, 28, 27], [25, 25, 25], exact)).toMatchObject({ word: 'too few readings', more: 2 })
    expect(difference([27, 27], [25, 25], exact)).toMatchObject({ word: 'too few readings', more: 3 })
  })

  it('takes nothing for a number that is none', () => {
    expect(() => difference([], [1])).toThrow(RangeError)
    for (const bad of [NaN, Infinity, -Infinity])
      expect(() => difference([1, 2, bad, 4, 5], [1, 2, 3, 4, 5])).toThrow(/no number/)
  })

  it('is the same whatever is added to both sides, and grows with the unit', () => {
    const many = fc.array(fc.integer({ min: 0, max: 10_000 }), { minLength: 5, maxLength: 12 })
    fc.assert(
      fc.property(many, many, fc.integer({ min: -5_000, max: 5_000 }), (a, b, add) => {
        const plain = difference(a, b)
        const turned = (by: (value: number) => number) => difference(a.map(by), b.map(by)).estimate
        expect(turned((value) => value + add)).toBeCloseTo(plain.estimate, 4)
        expect(turned((value) => value * 1000) / 1000).toBeCloseTo(plain.estimate, 4)
        expect([plain.low <= plain.estimate, plain.estimate <= plain.high]).toEqual([true, true])
      }),
    )
  })
})

describe('how sure a difference is', () => {
  const random = seeded(77)
  const gauss = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
  /** A reading as the nth of so many. */
  const worlds: [string, (n: number, of: number) => number][] = [
    ['normal', () => 1000 + 50 * gauss()],
    ['lognormal', () => Math.exp(6.9 + 0.4 * gauss())],
    ['two-humped', () => (random() < 0.7 ? 900 : 1200) + 30 * gauss()],
    ['with outliers', () => 1000 + 40 * gauss() + (random() < 0.08 ? 300 + 600 * random() : 0)],
    ['uniform', () => 900 + 200 * random()],
    ['drifting', (n, of) => 1000 + 50 * gauss() + (150 * n) / of],
  ]
  const draw = (world: (n: number, of: number) => number, n: number, shift: number) => ({
    before: Array.from({ length: n }, (_, i) => world(2 * i, 2 * n)),
    after: Array.from({ length: n }, (_, i) => world(2 * i + 1, 2 * n) + shift),
  })

  it.each(worlds.flatMap(([name, world]) => [5, 8, 20].map((n) => [name, n, world] as const)))(
    'the interval holds the truth as often as it says: %s, %d readings a side',
    (_, n, world) => {
      const draws = 1_500
      let held = 0
      for (let turn = 0; turn < draws; turn++) {
        const { before, after } = draw(world, n, -80)
        const { low, high } = difference(before, after)
        if (low <= -80 && high >= -80) held++
      }
      // Nominal 95 %; a run of 1,500 is within 1.7 % of the truth but once in a thousand.
      expect(held / draws).toBeGreaterThanOrEqual(0.94 - 0.017)
    },
  )

  it('of proofs in which nothing has changed, one in twenty has a false word at the most', () => {
    const proofs = 400
    let wrong = 0
    for (let proof = 0; proof < proofs; proof++) {
      const figures = Array.from({ length: 30 }, (_, n) => draw(worlds[n % worlds.length]![1], 5 + (n % 3), 0))
      if (differences(figures).some(({ word }) => word !== 'no measurable change')) wrong++
    }
    expect(wrong / proofs).toBeLessThanOrEqual(0.05 + 0.03)
  })

  it('finds what is there all the same', () => {
    const figures = Array.from({ length: 30 }, (_, n) => draw(worlds[0]![1], 8, n === 7 ? -400 : 0))
    expect(differences(figures)[7]!.word).toBe('better')
  })

  it('knows Student’s distribution by its table', () => {
    const table = [
      [1, 12.706],
      [4, 2.776],
      [7, 2.365],
      [17, 2.11],
      [120, 1.98],
    ] as const
    for (const [freedom, value] of table) {
      expect(student95(freedom)).toBeCloseTo(value, 3)
      expect(studentP(value, freedom)).toBeCloseTo(0.05, 3)
    }
    expect(studentP(0, 5)).toBeCloseTo(1, 10)
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
