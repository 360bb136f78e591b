/** A large part of the page, by its role; CSS pixels from the page's upper left corner. */
export interface Landmark {
  role: string
  /** Its accessible name; empty where it has none. */
  name: string
  x: number
  y: number
  width: number
  height: number
}

/** One recorded step, as far as guards look at it. */
export interface StepLook {
  name: string
  outcome: 'done' | 'not there' | 'failed'
  /** For a step that failed: what was expected. */
  why?: string
  /** Controls that can be reached once the step is done, as `GuardLook.controls`. */
  controls: readonly string[]
  /** What the page says then, as `selector: text`; only where it was asked for. */
  texts?: readonly string[]
}

/** Why a request came to nothing that the page itself gave up, as `GuardLook.failed` ends. */
export const GIVEN_UP = 'cancelled'

/** What a page shows and does, once: all that guards compare. Lists are bounded by whoever made them. */
export interface GuardLook {
  /** Of the page's own answer; null where it was none of HTTP. */
  status: number | null
  title: string
  /** Path where the page ended up; queries differ from load to load. */
  path: string
  /** Console errors and unhandled rejections, over load and steps. */
  errors: readonly string[]
  /** Where in which file an error came up, as `address:line:column`, by its text: as far as the browser told. */
  errorPlaces?: Readonly<Record<string, string>>
  /** Requests that got no answer, or one of 400 and more: method, address and why. */
  failed: readonly string[]
  landmarks: readonly Landmark[]
  /** Where links lead. */
  links: readonly string[]
  /** Form fields, each with the form it belongs to. */
  fields: readonly string[]
  /** Role and accessible name of each control that can be reached, as `button: Menu`. */
  controls: readonly string[]
  /** What the page says before any step, as `selector: text`; only where it was asked for. */
  texts?: readonly string[]
  /** Cumulative layout shift (Layout Instability, W3C draft): no unit. */
  shift: number | null
  steps: readonly StepLook[]
}
