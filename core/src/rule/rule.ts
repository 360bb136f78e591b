/** What a rule does to an add-on, a feature or a file. */
export const EFFECTS = ['skip', 'leave-out', 'hold', 'order', 'local', 'system-font', 'hint', 'keep'] as const
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

/** What is not to load, or to load later, and where. */
export interface Rule {
  id: string
  /** Slug of the add-on. */
  addon: string
  /** One of its features; the whole add-on without it. */
  feature?: string
  /** One of its files, as path or address; the whole add-on without it. */
  file?: string
  effect: Effect
  place: Place
  condition?: Condition
  /** Why it is there. */
  note?: string
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
