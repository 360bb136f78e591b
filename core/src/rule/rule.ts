/** What a rule does to an add-on, a feature or a file. */
export const EFFECTS = ['skip', 'leave-out', 'hold', 'order', 'local', 'system-font', 'hint', 'set', 'keep'] as const
export type Effect = (typeof EFFECTS)[number]

/** Where a rule holds. */
export type Place =
  | { level: 'page'; path: string }
  | { level: 'set'; paths: string[] }
  | { level: 'path'; pattern: string }
  | { level: 'kind'; kind: string }
  | { level: 'area'; area: Area }
  | { level: 'everywhere' }

export type Area = 'public' | 'office'

/** Narrows a rule to some visits. A rule without one holds for every visit. */
export interface Condition {
  device?: 'desk' | 'handset'
  visitor?: 'signed-out' | 'signed-in'
}

/** When what is held back comes after all: the page idle, a first input, its place in sight, or asked for by a press. */
export const HOLD_UNTIL = ['idle', 'input', 'seen', 'asked'] as const
export type HoldUntil = (typeof HOLD_UNTIL)[number]

/** How a script's or style's turn is changed. */
export const ORDERS = ['defer', 'async', 'end'] as const
export type Order = (typeof ORDERS)[number]

/** What is not to load, or to load later, and where. */
export interface Rule {
  id: string
  /** Slug of the add-on. */
  addon: string
  /** One of its features; the whole add-on without it. */
  feature?: string
  /** One of its files, as path or address; the whole add-on without it. */
  file?: string
  /** One of its settings: for `set`, and for `keep` against a broader one. */
  setting?: string
  effect: Effect
  /** For `hold`: until when. */
  until?: HoldUntil
  /** For `order`: which. */
  order?: Order
  /** For `set`: the value, a whole number. */
  value?: number
  place: Place
  condition?: Condition
  /** Why it is there. */
  note?: string
  /** Who drafted it, when (a day, `2026-11-29`), and for which version of its add-on. */
  author?: string
  made?: string
  madeFor?: string
  /** The last day on which it is meant to hold. It goes on holding until somebody removes it; that it should go is told. */
  expires?: string
}

/** A page as rules see it. */
export interface RulePage {
  path: string
  kind: string
  area: Area
}

/** A visit as rules see it. */
export interface Visit {
  device: 'desk' | 'handset'
  visitor: 'signed-out' | 'signed-in'
}

export const PLAIN_VISIT: Visit = { device: 'desk', visitor: 'signed-out' }
