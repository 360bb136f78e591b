/** Everything that is known of a site beforehand and can decide who pays. Payers are add-on slugs. */
export interface AttributionSources {
  /** Hosts that are the site's own, delivery hosts included; with port where it has one. */
  ownHosts: string[]
  /** The connector's asset register: own address (path with query, or absolute) → add-on. */
  register: Record<string, string>
  /**
   * What each glued file is made of, by the register or by its source map: own path → its parts in order, by bytes of the whole.
   */
  glued?: Record<string, { addon: string | null; from: number; bytes: number }[]>
  /** Paths of glued files of which the source map tells, and no register. */
  mapped?: string[]
  /** Folder prefixes (paths on an own host, or absolute) → add-on. The longest prefix wins. */
  prefixes: { prefix: string; addon: string }[]
  /** The maintainer's own patterns, in URLPattern syntax; the first that matches wins. */
  patterns: { pattern: string; addon: string }[]
  /** Inline code known by its element's id or its hash. */
  inline: { elementId?: string; hash?: string; addon: string }[]
  /** Registrable domain → add-on of the inventory that it belongs to. */
  outsiders: Record<string, string>
  /** Add-ons that work on behalf of others: what they ask for is charged to whoever called them, where that is known. */
  libraries?: string[]
  /** The site tells nothing of itself, so its own files are told apart by their folders. */
  byOwnFolders?: boolean
  /** Folder prefixes on own hosts that belong to no add-on but the theme, the CMS or the content. */
  folders: { prefix: string; payer: string }[]
}

export const NO_SOURCES: AttributionSources = {
  ownHosts: [],
  register: {},
  prefixes: [],
  patterns: [],
  inline: [],
  outsiders: {},
  folders: [],
}
