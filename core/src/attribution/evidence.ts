/**
 * What decided who pays, in the order it is asked. A stronger kind always wins over a weaker one.
 */
export const EVIDENCE = [
  'register',
  'prefix',
  'pattern',
  'inline',
  'initiator',
  'outsider',
  'folder',
  'unassigned',
] as const
export type EvidenceKind = (typeof EVIDENCE)[number]

export interface Charge {
  payer: string
  evidence: EvidenceKind
  /** The register line, prefix, pattern, address or domain that decided. */
  because: string
}

/** Payers that are no add-on: the page's own words and pictures, the CMS, and what nobody could be charged with. */
export const CONTENT = 'content'
export const CMS = 'cms'
export const UNASSIGNED = 'unassigned'
/** Server time that the site measured and no step claimed. */
export const REST = 'rest'
/** A file that was glued together from several payers' files: the request itself, and whatever of it can't be split. */
export const GLUED = 'glued'
export const NOT_ADDONS: readonly string[] = [CONTENT, CMS, UNASSIGNED, REST, GLUED]

/** The payer that an outsider is charged to when no add-on of the inventory claims its domain. */
export const outsiderPayer = (domain: string) => `outside:${domain}`
export const isOutsider = (payer: string) => payer.startsWith(outsiderPayer(''))

/** The payer that a file of the site's own is charged to where the site tells nothing and only its folder tells it apart. */
export const ownFolderPayer = (folder: string) => `own:${folder}`
export const isOwnFolder = (payer: string) => payer.startsWith(ownFolderPayer(''))

/** The payer of inline code that nobody is known to pay for but that stands in several pages. */
export const inlinePayer = (hash: string) => `inline:${hash}`
/** The hash of such code; null of any other payer. */
export const hashOfInline = (payer: string) =>
  payer.startsWith(inlinePayer('')) ? payer.slice(inlinePayer('').length) : null
