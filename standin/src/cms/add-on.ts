import type { ActionContext, ActionResult } from './action.js'
import type { Database } from './database.js'
import type { PageContext } from './page-context.js'
import type { Trace } from './trace.js'

export type AddOnKind = 'plugin' | 'widget' | 'font' | 'outside script' | 'theme' | 'built-in' | 'snippet'

/** A part with its own switch. */
export interface Feature {
  slug: string
  name: string
  on: boolean
}

/** A part with its own number: items in a list, requests at a time. */
export interface Setting {
  slug: string
  name: string
  value: number
  /** Whether a rule can set it for some pages. */
  perPage?: boolean
  least: number
  most: number
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
  settings?: Setting[]
  /** Slugs of the add-ons it needs. */
  needs: string[]
  /** Loaded only because others need it. */
  library?: boolean
  /** Whether the CMS can leave it unrun on one page. */
  canSkip: boolean
  /** Shows nothing on any page, and does its work all the same, always or once. */
  works?: 'unseen' | 'once'
  /** How an outsider's script comes into the page. */
  insertedBy?: 'its own code' | 'the template' | 'an injected header' | 'a theme switch'
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

/** A place in the template that an add-on may fill. */
export type Slot = 'menu' | 'office-menu' | 'mast'

export interface Task {
  name: string
  everySeconds: number
  run(database: Database): Promise<void>
}

/** An add-on of the stand-in: real code that runs while a page is made, and real files. */
export interface AddOn {
  manifest: Manifest
  /** Installed but switched off when false: it runs nowhere. */
  active?: boolean
  /** The CMS offers it, and nobody has installed it. */
  offered?: boolean
  files: AddOnFile[]
  /** Hosts of outsiders that its tags reach. */
  outsideHosts?: string[]
  /** Ids of the inline elements it prints. */
  inlineIds?: string[]
  /** Its own tables, which stay behind when it is removed. */
  tables?: string[]
  /** Makes and fills its own tables; must be safe to run again. */
  setUp?(database: Database): Promise<void>
  /** Whether it runs on a page of the back office; nowhere there, unless it says so. */
  office?(page: PageContext): boolean
  /** Runs before the content, once a page. */
  beforeContent?(page: PageContext): Promise<void>
  /** The tags it puts into this page. */
  tags(page: PageContext): Tag[]
  /** Blocks it can draw: `[[name attribute="value"]]` in the content. */
  blocks?: Record<string, (page: PageContext, attributes: Record<string, string>) => Promise<string>>
  /** The feature that a block belongs to, where blocks have switches. */
  featureOfBlock?(name: string, attributes: Record<string, string>): string | undefined
  /** Printed behind the content. */
  afterContent?(page: PageContext): Promise<string>
  /** What it makes of the whole page, once all others have had their say. */
  filter?(html: string): string
  slots?: Partial<Record<Slot, (page: PageContext) => Promise<string>>>
  /** What it does with a form that is sent: path → handler. */
  actions?: Record<string, (action: ActionContext) => Promise<ActionResult>>
  /** Says whether a posted text may stand. */
  guards?(text: string, database: Database, trace: Trace): Promise<boolean>
  /** Runs when an editor saves a page. */
  onSave?(path: string, database: Database, trace: Trace): Promise<void>
  /** Work outside any page load. */
  tasks?: Task[]
  /** Other versions that can be installed in its place. */
  releases?: AddOn[]
}

export const scriptTag = (src: string, where: Tag['where'] = 'body-end', attributes = ''): Tag => ({
  where,
  src,
  html: `<script src="${src}"${attributes && ` ${attributes}`}></script>`,
})

export const styleTag = (src: string): Tag => ({ where: 'head', src, html: `<link rel="stylesheet" href="${src}">` })
