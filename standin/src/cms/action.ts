import type { SitePage } from '../content/site-page.js'
import type { Database } from './database.js'
import type { Person } from './people.js'
import type { Trace } from './trace.js'

/** A form that a visitor has sent. */
export interface ActionContext {
  form: URLSearchParams
  person: Person | null
  /** The basket's id, from its cookie. */
  basket: string
  trace: Trace
  database: Database
  /** Runs what the other add-ons do when something is posted, and says whether it may stand. */
  accepts(text: string): Promise<boolean>
  /** Looks a page up by its path. */
  page(path: string): SitePage | undefined
}

/** Where the visitor is sent next, and what is said when the form can't be taken. */
export type ActionResult = { to: string; cookies?: string[] } | { refused: string }
