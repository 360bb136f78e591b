import { median } from './median.js'
import { student95, studentP } from './student.js'

/** The words a difference is reported in. */
export type DifferenceWord = 'better' | 'worse' | 'no measurable change' | 'too small to matter' | 'too few readings'

export interface Difference {
  /** Medians of either side. */
  before: number
  after: number
  /** After less before, drift taken off, in the measure's own unit: negative is less. */
  estimate: number
  /** 95 % interval of the estimate. */
  low: number
  high: number
  /** How likely a difference as large would be if there were none; 1 where nothing can be said. */
  p: number
  word: DifferenceWord
  /** How many readings a side a word still lacks. */
  more: number
}

export interface Compared {
  before: readonly number[]
  /** Read in turn with those before: before, after, before, after … */
  after: readonly number[]
  /** Smallest difference worth speaking of, in the measure's own unit. */
  threshold?: number
  /** A count, which is the same each time as long as nothing changes; where it is, nothing is left to chance. */
  exact?: boolean
}

/** A time gets a word from so many readings a side on. */
export const FEWEST_FOR_WORD = 5
/** Below this many readings of a side nothing at all can be said of what varies. */
export const FEWEST_READINGS = 3
const LIKELY = 0.05

/**
 * Compares two sets of readings of one measure that were read in turn, of which less is better. What varies is described by a
 * line over the order of reading, for what drifts, and a step between the sides; the step is the estimate, its interval is
 * Student's (least squares; Draper and Smith, Applied Regression Analysis, 3rd ed. 1998, ch. 1 and 14). A count that never
 * varied on either side differs by exactly what it differs.
 * @throws RangeError where a side has no reading, or a reading is no number.
 */
export const difference = (
  before: readonly number[],
  after: readonly number[],
  options: Omit<Compared, 'before' | 'after'> = {},
): Difference => differences([{ before, after, ...options }])[0]!

/**
 * The same for many measures that are judged together: of those that vary, false words are held to 5 % of the whole (Holm, A
 * simple sequentially rejective multiple test procedure, Scand. J. Statist. 6, 1979). Intervals are each one's own.
 */
export function differences(list: readonly Compared[]): Difference[] {
  const found = list.map(differenceOf)
  // From the least likely on, each has to be less likely than its share; behind the first that isn't, none is.
  const inOrder = found
    .filter(({ p, isExact, more }) => !isExact && more === 0 && p <= LIKELY)
    .sort((a, b) => a.p - b.p)
  const judged = found.filter(({ isExact, more }) => !isExact && more === 0).length
  const failsAt = inOrder.findIndex(({ p }, n) => p > LIKELY / (judged - n))
  const standing = new Set(failsAt < 0 ? inOrder : inOrder.slice(0, failsAt))
  return found.map((one, n) => {
    const { isExact, ...rest } = one
    const differs = isExact ? rest.estimate !== 0 : standing.has(one)
    return { ...rest, word: wordFor(rest, differs, list[n]!.threshold ?? 0) }
  })
}

type Unjudged = Omit<Difference, 'word'> & { isExact: boolean }

function differenceOf({ before, after, exact = false }: Compared): Unjudged {
  if (before.length === 0 || after.length === 0) throw new RangeError('difference: each side needs a reading')
  if (![...before, ...after].every(Number.isFinite)) throw new RangeError('difference: a reading is no number')
  const middles = { before: median(before), after: median(after) }
  const fewest = Math.min(before.length, after.length)
  const isSteady = [before, after].every((side) => side.every((value) => value === side[0]))
  if (exact && isSteady && fewest >= FEWEST_READINGS) {
    const estimate = middles.after - middles.before
    return { ...middles, estimate, low: estimate, high: estimate, p: 0, more: 0, isExact: true }
  }
  const more = Math.max(0, FEWEST_FOR_WORD - fewest)
  if (fewest < FEWEST_READINGS) {
    const estimate = middles.after - middles.before
    return { ...middles, estimate, low: -Infinity, high: Infinity, p: 1, more, isExact: false }
  }
  return { ...middles, ...stepOf(before, after), more, isExact: false }
}

/** The step between two series that were read in turn, beside a line over the order of reading. */
function stepOf(
  before: readonly number[],
  after: readonly number[],
): Pick<Difference, 'estimate' | 'low' | 'high' | 'p'> {
  const points = [
    ...before.map((value, n) => ({ value, step: 0, time: 2 * n })),
    ...after.map((value, n) => ({ value, step: 1, time: 2 * n + 1 })),
  ]
  const count = points.length
  const mean = (of: (point: (typeof points)[number]) => number) => points.reduce((sum, p) => sum + of(p), 0) / count
  const [step, time, value] = [mean((p) => p.step), mean((p) => p.time), mean((p) => p.value)]
  let [ss, tt, st, sv, tv] = [0, 0, 0, 0, 0]
  for (const point of points) {
    const [s, t, v] = [point.step - step, point.time - time, point.value - value]
    ss += s * s
    tt += t * t
    st += s * t
    sv += s * v
    tv += t * v
  }
  const determinant = ss * tt - st * st
  const estimate = (sv * tt - tv * st) / determinant
  const drift = (tv * ss - sv * st) / determinant
  const left = points.reduce((sum, point) => {
    const off = point.value - value - estimate * (point.step - step) - drift * (point.time - time)
    return sum + off * off
  }, 0)
  const freedom = count - 3
  const error = Math.sqrt(((left / freedom) * tt) / determinant)
  // What never varied tells nothing of how much it would: a clock that shows whole units hides that.
  if (error < 1e-9 * Math.max(1, Math.abs(value))) return { estimate, low: -Infinity, high: Infinity, p: 1 }
  const half = student95(freedom) * error
  return { estimate, low: estimate - half, high: estimate + half, p: studentP(estimate / error, freedom) }
}

function wordFor(
  { estimate, more, isExact }: Pick<Unjudged, 'estimate' | 'more'> & { isExact?: boolean },
  differs: boolean,
  threshold: number,
): DifferenceWord {
  if (more > 0 && !isExact) return 'too few readings'
  if (!differs) return 'no measurable change'
  if (Math.abs(estimate) < threshold) return 'too small to matter'
  return estimate < 0 ? 'better' : 'worse'
}
