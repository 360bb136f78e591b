import type { PageContext } from './page-context.js'
import type { Database } from './database.js'

export type AddOnKind = 'plugin' | 'widget' | 'font' | 'outside script' | 'theme' | 'built-in' | 'snippet'

export interface Feature {
  slug: string
  name: string
  on: boolean
}

/** What the CMS knows of an add-on without running it. */
export interface Manifest {
  slug: string
  kind: AddOnKind
  name: string
  version: string
  author: string
  summary: string
  features: Feature[]
  /** Slugs of the add-ons it needs. */
  needs: string[]
  /** Loaded only because others need it. */
  library?: boolean
  /** Whether the CMS can leave it unrun on one page. */
  canSkip: boolean
}

export interface AddOnFile {
  /** Path on the site's own host. */
  path: string
  type: 'script' | 'style' | 'font' | 'picture'
  body: Buffer
}

/** A tag that an add-on has put into the page. */
export interface Tag {
  where: 'head' | 'body-end'
  /** Path or address of the file; none for inline code. */
  src?: string
  html: string
}

/** An add-on of the stand-in: real code that runs while a page is made, and real files. */
export interface AddOn {
  manifest: Manifest
  /** Installed but switched off when false: it runs nowhere. */
  active?: boolean
  files: AddOnFile[]
  /** Hosts of outsiders that its tags reach. */
  outsideHosts?: string[]
  /** Ids of the inline elements it prints. */
  inlineIds?: string[]
  /** Makes and fills its own tables; must be safe to run again. */
  setUp?(database: Database): Promise<void>
  /** Runs before the content, once a page. */
  beforeContent?(page: PageContext): Promise<void>
  /** The tags it puts into this page. */
  tags(page: PageContext): Tag[]
  /** Blocks it can draw: `[[name attribute="value"]]` in the content. */
  blocks?: Record<string, (page: PageContext, attributes: Record<string, string>) => Promise<string>>
  /** Printed behind the content. */
  afterContent?(page: PageContext): Promise<string>
}

export const scriptTag = (src: string, where: Tag['where'] = 'body-end', attributes = ''): Tag => ({
  where,
  src,
  html: `<script src="${src}"${attributes && ` ${attributes}`}></script>`,
})

export const styleTag = (src: string): Tag => ({ where: 'head', src, html: `<link rel="stylesheet" href="${src}">` })
