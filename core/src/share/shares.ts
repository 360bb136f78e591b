import { student95 } from '../noise/student.js'
import { setKey, type SharePlan } from './share-plan.js'

/** `gives`: less is used because of it; `takes`: more is. */
export type ShareWord = 'gives' | 'takes' | 'nothing' | 'not sure'

/** A figure and its 95 % interval; without bounds where too little was read. In the measure's unit, positive is spared. */
export interface Shared {
  estimate: number
  low: number
  high: number
  word: ShareWord
}

export interface Share extends Shared {
  /** What it spares with no other change made. */
  alone: number
  /** What it spares behind all others. Less than alone where another spares the same. */
  last: number
}

export interface Shares {
  total: Shared
  /** One a change. They add up to the total. */
  each: Share[]
}

/**
 * What each change has of what all of them spare together: the mean of what it spares behind every set of the others (Shapley, A
 * value for n-person games, 1953). Where every set was read, the interval is Student's over the rounds; where orders were drawn, it is
 * Student's over the pairs of orders (Castro, Gómez and Tejada, Polynomial calculation of the Shapley value based on sampling,
 * Computers & Operations Research 36, 2009), which holds the noise of the readings as well.
 * @param readings For each set of the plan what was read of the measure, one figure a round; less is better. Rounds that not all sets
 *   have are left out.
 * @param threshold Smallest difference worth speaking of, in the measure's unit.
 * @returns null where some set was never read.
 */
export function shares(plan: SharePlan, readings: readonly (readonly number[])[], threshold: number): Shares | null {
  const rounds = readings.reduce((least, { length }) => Math.min(least, length), Infinity)
  if (!(rounds > 0) || readings.length !== plan.sets.length) return null
  const place = new Map(plan.sets.map((set, at) => [setKey(set), at]))
  const valueIn = (round: number) => (set: readonly number[]) => readings[place.get(setKey(set))!]![round]!
  const everyRound = Array.from({ length: rounds }, (_, round) => valueIn(round))
  const mean = (set: readonly number[]) => meanOf(everyRound.map((value) => value(set)))
  const all = Array.from({ length: plan.changes }, (_, at) => at)
  const totals = everyRound.map((value) => value([]) - value(all))
  return {
    total: judged(totals, threshold),
    each: all.map((change) => {
      const samples = plan.orders
        ? pairsOf(plan.orders).map((pair) => meanOf(pair.map((order) => behind(order, change, mean))))
        : everyRound.map((value) => ofAllSets(plan.sets, change, plan.changes, value))
      return {
        ...judged(samples, threshold),
        alone: mean([]) - mean([change]),
        last: mean(all.filter((other) => other !== change)) - mean(all),
      }
    }),
  }
}

type ValueOf = (set: readonly number[]) => number

/** The weight of a set is how many of all orders begin with just it. */
function ofAllSets(sets: readonly number[][], change: number, changes: number, value: ValueOf): number {
  let sum = 0
  for (const set of sets)
    if (!set.includes(change)) {
      const weight = 1 / (changes * choose(changes - 1, set.length))
      sum += weight * (value(set) - value([...set, change].sort((a, b) => a - b)))
    }
  return sum
}

function behind(order: readonly number[], change: number, value: ValueOf): number {
  const at = order.indexOf(change)
  const set = (length: number) => order.slice(0, length).sort((a, b) => a - b)
  return value(set(at)) - value(set(at + 1))
}

const pairsOf = (orders: readonly number[][]): number[][][] =>
  Array.from({ length: orders.length / 2 }, (_, pair) => orders.slice(2 * pair, 2 * pair + 2))

function judged(samples: readonly number[], threshold: number): Shared {
  const estimate = meanOf(samples)
  const spread = samples.reduce((sum, value) => sum + (value - estimate) ** 2, 0)
  const half =
    samples.length < 2
      ? Infinity
      : spread < 1e-18 * (1 + estimate * estimate)
        ? 0
        : student95(samples.length - 1) * Math.sqrt(spread / (samples.length - 1) / samples.length)
  const [low, high] = [estimate - half, estimate + half]
  return { estimate, low, high, word: wordOf(low, high, threshold) }
}

function wordOf(low: number, high: number, threshold: number): ShareWord {
  if (low >= -threshold && high <= threshold) return 'nothing'
  if (low > 0 && high > threshold) return 'gives'
  if (high < 0 && low < -threshold) return 'takes'
  return 'not sure'
}

const meanOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length

function choose(n: number, k: number): number {
  let ways = 1
  for (let i = 1; i <= k; i++) ways = (ways * (n - k + i)) / i
  return ways
}
