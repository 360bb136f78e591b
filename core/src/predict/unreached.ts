import type { OutOfReachBecause } from './reach.js'

/** Of what no mechanism reaches, as bits: not even where the site doesn't run the add-on; it can't be held; it is a part of a glued file. */
export const UNREACHED = { evenSkipped: 1, staysAtOnce: 2, isPart: 4 } as const
/** Numbers that each of them takes. */
export const UNREACHED_WIDTH = 5

export interface Unreached {
  payer: number
  /** In the page's `urls`. */
  url: number
  /** Null where it can be left out. */
  because: OutOfReachBecause | null
  /** `UNREACHED` */
  flags: number
  when: number
}
