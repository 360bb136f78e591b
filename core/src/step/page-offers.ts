/** A control as people name it, by WAI-ARIA. */
export interface NamedControl {
  role: string
  name: string
}

/** A field that a visitor can see; `at` finds it as the place of a step's action does. */
export interface OfferedField {
  at: string
  /** As HTML names it: `text`, `email`, `select`, `textarea`, `checkbox` … */
  type: string
  required: boolean
  /** Entries of a list, without those that stand for none. */
  entries?: string[]
}

export interface OfferedForm {
  /** What people call it: its name, the heading before it, or else what its button says. */
  name: string
  method: 'get' | 'post'
  /** Path where it leads. */
  action: string
  fields: OfferedField[]
  /** What sends it; null where nothing in sight does. */
  submit: string | null
}

/** What a page has that a visitor could do, once it is loaded. Lists are bounded by whoever made them. */
export interface PageOffers {
  /** Controls in sight that say of themselves that they open something, and are shut. */
  shut: NamedControl[]
  forms: OfferedForm[]
  /** Parts that a visitor of the page comes for and can see: where, and what people call them. */
  parts: { at: string; what: string }[]
  /** Words of its headings for its search, the longest of the first heading first; in small letters. */
  words: string[]
}
