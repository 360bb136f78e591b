import fc from 'fast-check'
import { MOST_SHARED, READ_ALL_UP_TO, seeded, sharePlan, shares, type SharePlan } from '../src/index.js'

const BASE = 1_000_000
/** What a page weighs under each set, by what each change spares and what a pair spares together. */
const read = (plan: SharePlan, spares: (set: readonly number[]) => number, rounds = 2, noise = () => 0) =>
  plan.sets.map((set) => Array.from({ length: rounds }, () => BASE - spares(set) + noise()))
const sumOf = (values: readonly number[]) => (set: readonly number[]) => set.reduce((sum, at) => sum + values[at]!, 0)
const sum = (values: number[]) => values.reduce((a, b) => a + b, 0)

it('five changes of which three do nothing come out so', () => {
  const plan = sharePlan(5, 1)
  expect(plan.sets).toHaveLength(32)
  const found = shares(plan, read(plan, sumOf([40_000, 0, 0, 9_000, 0])), 500)!
  expect(found.each.map(({ estimate, word }) => [Math.round(estimate), word])).toEqual([
    [40_000, 'gives'],
    [0, 'nothing'],
    [0, 'nothing'],
    [9_000, 'gives'],
    [0, 'nothing'],
  ])
  expect(found.total).toMatchObject({ estimate: 49_000, low: 49_000, high: 49_000, word: 'gives' })
})

it('what two spare only together is shared between them, and shows beside what each spares alone', () => {
  // A library that goes when neither of the two that need it is there.
  const plan = sharePlan(3, 1)
  const together = (set: readonly number[]) => (set.includes(0) && set.includes(1) ? 30_000 : 0)
  const { each } = shares(plan, read(plan, together), 100)!
  expect(each[0]).toMatchObject({ estimate: 15_000, alone: 0, last: 30_000 })
  expect(each[1]).toMatchObject({ estimate: 15_000, alone: 0, last: 30_000 })
  expect(each[2]).toMatchObject({ estimate: 0, word: 'nothing' })
  // The other way round: either spares it, whichever is first.
  const either = (set: readonly number[]) => (set.includes(0) || set.includes(1) ? 30_000 : 0)
  expect(shares(plan, read(plan, either), 100)!.each[0]).toMatchObject({ estimate: 15_000, alone: 30_000, last: 0 })
})

const anyGame = fc.integer({ min: 1, max: 9 }).chain((changes) =>
  fc.record({
    changes: fc.constant(changes),
    seed: fc.nat(1000),
    alone: fc.array(fc.integer({ min: -5000, max: 5000 }), { minLength: changes, maxLength: changes }),
    pair: fc.integer({ min: -3000, max: 3000 }),
  }),
)

it('shares add up to the total, whatever the changes do to each other', () => {
  fc.assert(
    fc.property(anyGame, fc.integer({ min: 1, max: 3 }), ({ changes, seed, alone, pair }, rounds) => {
      const plan = sharePlan(changes, seed)
      const noise = seeded(seed)
      const spares = (set: readonly number[]) => sumOf(alone)(set) + (set.includes(0) && set.includes(1) ? pair : 0)
      const { total, each } = shares(
        plan,
        read(plan, spares, rounds, () => 1000 * noise()),
        1,
      )!
      expect(sum(each.map(({ estimate }) => estimate))).toBeCloseTo(total.estimate, 3)
    }),
    { numRuns: 60 },
  )
})

it('who adds nothing to any set has no share, and who adds the same to each has just that', () => {
  fc.assert(
    fc.property(anyGame, ({ changes, seed, alone, pair }) => {
      fc.pre(changes > 2)
      const plan = sharePlan(changes, seed)
      const own = alone.map((value, at) => (at === 2 ? 0 : value))
      const spares = (set: readonly number[]) => sumOf(own)(set) + (set.includes(0) && set.includes(1) ? pair : 0)
      const { each } = shares(plan, read(plan, spares), 1)!
      expect(each[2]!.estimate).toBeCloseTo(0, 6)
      if (changes > 3) expect(each[3]!.estimate).toBeCloseTo(own[3]!, 6)
    }),
    { numRuns: 60 },
  )
})

it('of many changes orders are drawn, each with its reverse, and the sets are few', () => {
  const plan = sharePlan(MOST_SHARED, 7)
  expect(plan.orders).toHaveLength(10)
  expect(plan.sets.length).toBeLessThanOrEqual(2 + 12 * (MOST_SHARED - 1) + 2)
  expect(plan.sets[0]).toEqual([])
  expect(plan.sets.at(-1)).toHaveLength(MOST_SHARED)
  expect(sharePlan(MOST_SHARED, 7)).toEqual(plan)
  expect(() => sharePlan(0, 1)).toThrow(RangeError)
  expect(() => sharePlan(MOST_SHARED + 1, 1)).toThrow(RangeError)
})

it('intervals of times that vary hold the truth, and say that they are not sure', () => {
  const truth = [40, 0, 12, 0, 0]
  let held = 0
  let nothingTakenForGain = 0
  const TRIES = 120
  for (let seed = 1; seed <= TRIES; seed++) {
    const random = seeded(seed)
    const noise = () => 15 * Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
    const plan = sharePlan(READ_ALL_UP_TO, seed)
    const { each } = shares(plan, read(plan, sumOf(truth), 4, noise), 5)!
    held += each.filter(({ low, high }, at) => low <= truth[at]! && truth[at]! <= high).length
    nothingTakenForGain += each.filter(({ word }, at) => truth[at] === 0 && word === 'gives').length
  }
  expect(held / (TRIES * 5)).toBeGreaterThan(0.92)
  expect(nothingTakenForGain / (TRIES * 3)).toBeLessThan(0.05)
})

it('is not told where a set was never read, and has no bounds after one round', () => {
  const plan = sharePlan(2, 1)
  const all = read(plan, sumOf([100, 0]), 1)
  expect(shares(plan, [[], ...all.slice(1)], 1)).toBeNull()
  expect(shares(plan, all.slice(1), 1)).toBeNull()
  expect(shares(plan, all, 1)!.each[0]).toMatchObject({
    estimate: 100,
    low: -Infinity,
    high: Infinity,
    word: 'not sure',
  })
})
