import type { Visit } from '@unvelt/core'
import type { SitePage } from '../content/site-page.js'
import type { AddOn } from './add-on.js'
import type { Database } from './database.js'
import type { Person } from './people.js'
import type { Trace } from './trace.js'

/** What an add-on is given while a page is made. */
export interface PageContext {
  page: SitePage
  address: URL
  visit: Visit
  person: Person | null
  /** The basket's id, from its cookie; empty without one. */
  basket: string
  trace: Trace
  database: Database
  /** Whether this add-on's feature is on, for this page. */
  feature(slug: string): boolean
  /** The value of this add-on's setting. */
  setting(slug: string): number
  /** Every page, as it now is. */
  pages: SitePage[]
  /** Every add-on that is installed. */
  installed: readonly AddOn[]
  /** The address of a file on the site's own delivery host. */
  delivered(path: string): string
}
