/** One value of a setting and what a page costs with it. */
export interface CurvePoint {
  value: number
  cost: number
}

/** How far from the straight line the knee must lie, as a share of the curve's height, to be called one. */
const LEAST_BEND = 0.1

/**
 * Where a curve bends most: the point farthest from the straight line between its ends, both axes brought to the same
 * length. Follows V. Satopää, J. Albrecht, D. Irwin and B. Raghavan, "Finding a 'Kneedle' in a Haystack" (2011), for curves that
 * are given by a few points, without its smoothing.
 * @param points At least three, in any order; of one value the last counts.
 * @returns The value at the knee; null where the costs run straight, or where there are fewer than three values.
 */
export function knee(points: readonly CurvePoint[]): number | null {
  const byValue = new Map(points.filter(isFinitePoint).map((point) => [point.value, point]))
  const curve = [...byValue.values()].sort((a, b) => a.value - b.value)
  if (curve.length < 3) return null
  const first = curve[0]!
  const last = curve.at(-1)!
  const costs = curve.map(({ cost }) => cost)
  const height = Math.max(...costs) - Math.min(...costs)
  if (height === 0) return null
  const straight = ({ value }: CurvePoint) =>
    first.cost + ((last.cost - first.cost) * (value - first.value)) / (last.value - first.value)
  const bends = curve.map((point) => Math.abs(point.cost - straight(point)) / height)
  const most = Math.max(...bends)
  return most < LEAST_BEND ? null : curve[bends.indexOf(most)]!.value
}

const isFinitePoint = ({ value, cost }: CurvePoint): boolean => Number.isFinite(value) && Number.isFinite(cost)
