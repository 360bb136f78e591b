/** What a page may cost the measuring browser at most. Whatever a site does, a reading ends. */
export interface ReadingLimits {
  /** No answer, or no load event, within this time: the reading failed. */
  loadMs: number
  /** No quiet within this time after the load event: the reading ends as it is. */
  quietWaitMs: number
  requests: number
  transferBytes: number
  decodedBytes: number
  /** Whatever a page does, its reading is over after this, and the browser is taken away from it. */
  hardMs: number
  /** A page that is asked for its figures answers within this time. */
  answerMs: number
}

export const DEFAULT_LIMITS: ReadingLimits = {
  loadMs: 45_000,
  quietWaitMs: 10_000,
  requests: 5_000,
  transferBytes: 100e6,
  decodedBytes: 300e6,
  hardMs: 90_000,
  answerMs: 15_000,
}

/** The page counts as quiet when no request has been under way for this long after its load event. */
export const QUIET_MS = 500
/** More text than this from the page's console is not kept. */
export const MOST_CONSOLE_LINES = 50
export const LONGEST_TEXT = 500
