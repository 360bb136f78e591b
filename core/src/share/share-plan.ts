import { seeded } from '../random/seeded.js'

/** Up to so many changes every set of them is read; above, orders are drawn. */
export const READ_ALL_UP_TO = 5
export const MOST_SHARED = 16
/** Orders are drawn in pairs, each with its reverse: what is drawn early in one comes late in the other. */
const PAIRS = 5

/** Which sets of changes are to be read, so that each one's share can be told. A set lists the numbers of its changes, rising. */
export interface SharePlan {
  changes: number
  /** The empty one first, all of them last. */
  sets: number[][]
  /** In which orders the changes are made one after the other; null where every set is read. */
  orders: number[][] | null
}

/**
 * Every set of a few changes; of many, the sets that come about when they are made one after the other in drawn orders.
 * @param changes How many, 1 to `MOST_SHARED`.
 * @param seed For the draw.
 * @throws RangeError
 */
export function sharePlan(changes: number, seed: number): SharePlan {
  if (!Number.isInteger(changes) || changes < 1 || changes > MOST_SHARED)
    throw new RangeError(`Expected 1 to ${MOST_SHARED} changes, got ${changes}.`)
  const all = Array.from({ length: changes }, (_, at) => at)
  if (changes <= READ_ALL_UP_TO)
    return { changes, orders: null, sets: subsets(all).sort((a, b) => a.length - b.length) }
  const random = seeded(seed)
  const orders = Array.from({ length: PAIRS }, () => shuffled(all, random)).flatMap((order) => [
    order,
    [...order].reverse(),
  ])
  const sets = new Map<string, number[]>()
  for (const order of orders)
    for (let length = 0; length <= changes; length++) {
      const set = order.slice(0, length).sort((a, b) => a - b)
      sets.set(setKey(set), set)
    }
  // What each spares alone, and behind all others.
  for (const one of all) for (const set of [[one], all.filter((other) => other !== one)]) sets.set(setKey(set), set)
  return { changes, orders, sets: [...sets.values()].sort((a, b) => a.length - b.length) }
}

export const setKey = (set: readonly number[]): string => set.join()

const subsets = (all: readonly number[]): number[][] =>
  all.reduce<number[][]>((sets, one) => [...sets, ...sets.map((set) => [...set, one])], [[]])

/** Fisher and Yates. */
function shuffled(all: readonly number[], random: () => number): number[] {
  const order = [...all]
  for (let at = order.length - 1; at > 0; at--) {
    const other = Math.floor(random() * (at + 1))
    ;[order[at], order[other]] = [order[other]!, order[at]!]
  }
  return order
}
