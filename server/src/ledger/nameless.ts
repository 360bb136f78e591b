import { CMS, CONTENT, GLUED, REST, UNASSIGNED } from '@unvelt/core'
import type { LedgerPayer } from '@unvelt/contract'

/** Payers that are no add-on, as the ledger names them. */
export const PAGE_PAYERS: LedgerPayer[] = [
  { slug: CONTENT, name: 'Content', kind: 'content', version: null },
  { slug: CMS, name: 'CMS', kind: 'cms', version: null },
  { slug: REST, name: 'Rest of the server', kind: 'rest', version: null },
  { slug: GLUED, name: 'Glued files', kind: 'glued', version: null },
  { slug: UNASSIGNED, name: 'Unassigned', kind: 'unassigned', version: null },
]

/** A payer that has been taken out of the inventory, but not out of the past. */
export const nameless = (slug: string): LedgerPayer => ({ slug, name: slug, kind: 'snippet', version: null })
