import { seeded } from '../random/seeded.js'
import { FEWEST_READINGS } from './difference.js'
import { median } from './median.js'

/** How well a median is known from its repeats, in the unit of the values. */
export interface Repeatability {
  count: number
  least: number
  most: number
  /** Half of the 95 % interval of the median; null with fewer repeats than can say anything of it. */
  uncertainty: number | null
  /** Whether the median is known less well than is wanted. */
  tooNoisy: boolean
  /** How many repeats would likely be enough; null where these are. */
  repeatsNeeded: number | null
}

const RESAMPLES = 1000
const MOST_PROPOSED = 50
/** What is worth trying where nothing is known of the noise. */
const FIRST_PROPOSAL = 5

/**
 * Whether repeats tell a median well enough. The interval is the percentile bootstrap of the median (Efron & Tibshirani, An
 * Introduction to the Bootstrap, 1993, ch. 13), seeded; the number of repeats that is proposed supposes that the interval
 * narrows with the square root of their number.
 * @param wanted share of the median that the uncertainty may be
 */
export function repeatability(values: readonly number[], wanted = 0.1): Repeatability | null {
  if (values.length === 0) return null
  const range = { count: values.length, least: Math.min(...values), most: Math.max(...values) }
  if (values.length < FEWEST_READINGS)
    return { ...range, uncertainty: null, tooNoisy: true, repeatsNeeded: FIRST_PROPOSAL }
  const random = seeded(values.length)
  const medians = Array.from({ length: RESAMPLES }, () =>
    median(values.map(() => values[Math.floor(random() * values.length)]!)),
  ).sort((a, b) => a - b)
  const at = (share: number) => medians[Math.round(share * (RESAMPLES - 1))]!
  const uncertainty = (at(0.975) - at(0.025)) / 2
  const allowed = wanted * Math.abs(median(values))
  const tooNoisy = uncertainty > allowed
  const needed = allowed > 0 ? Math.ceil(values.length * (uncertainty / allowed) ** 2) : MOST_PROPOSED
  return {
    ...range,
    uncertainty,
    tooNoisy,
    repeatsNeeded: tooNoisy ? Math.min(MOST_PROPOSED, Math.max(values.length + 1, needed)) : null,
  }
}
