import type { SitePage } from '../content/site-page.js'
import type { Database } from './database.js'
import type { Trace } from './trace.js'

/** What an add-on is given while a page is made. */
export interface PageContext {
  page: SitePage
  address: URL
  trace: Trace
  database: Database
}
