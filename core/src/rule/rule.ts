/** What a rule does to an add-on, a feature or a file. */
export const EFFECTS = ['skip', 'leave-out', 'hold', 'order', 'local', 'system-font', 'hint', 'set', 'keep'] as const
export type Effect = (typeof EFFECTS)[number]

/** Where a rule holds. */
export type Place =
  | { level: 'page'; path: string }
  /** Listed pages; the name that they may have together is for people, and two sets of one name are one place. */
  | { level: 'set'; paths: string[]; name?: string }
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

/** What stands where something is held until somebody asks for it. */
export interface AskPlace {
  /** What it says; `Load` and the add-on without. */
  words?: string
  /** A picture above it: a path of the site, or an http or https address. */
  picture?: string
}

/** How a copy on the own host is kept: one of an outside file, or one that was made from a file and given to the site. */
export interface CopyTerms {
  /** Days after which the site fetches the file anew; without it the copy stays as it is. */
  refreshDays?: number
  /** Why the file may be copied: the licence, or whose word it is. */
  licence?: string
  /** Of a copy that was made and given: what is in it, by its hash as Subresource Integrity writes it (SRI, section 3.1). */
  content?: string
  /** The hash of the file that it was made from. It stands in for that alone: another version of the file comes as it is. */
  from?: string
}

/**
 * A font of the system that stands in for one that is left out, fitted so that a text takes as much room (CSS Fonts 5: `size-adjust`
 * and the metrics' overrides). Percentages.
 */
export interface FontStandIn {
  family: string
  /** As a declaration says it: `400`, or `200 900` of a variable font; of all weights without. */
  weight?: string
  style?: 'normal' | 'italic'
  /** Full names, the first that a system has is taken. */
  local: string[]
  size: number
  ascent: number
  descent: number
  lineGap: number
}

/** A host that a page is to connect to early. */
export interface EarlyHost {
  origin: string
  /** Files are asked for there without credentials, as fonts are: that takes a connection of its own. */
  cors?: boolean
  /** Only its name is looked up. */
  nameOnly?: boolean
}

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
  /** For `hold` until asked: what stands in its place. */
  ask?: AskPlace
  /** For `order`: which. */
  order?: Order
  /** For `set`: the value, a whole number. */
  value?: number
  /** For `local`: how the copy is kept. */
  copy?: CopyTerms
  /** For `system-font`: what stands in; a text falls to the next of its own families without. */
  fonts?: FontStandIn[]
  /** For `hint`: to where; the hosts that the page names without. */
  hosts?: EarlyHost[]
  /** For `hint` of a picture's file: no tag names it, so a link announces it. */
  ahead?: true
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
