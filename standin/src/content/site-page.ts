/** One address of the arboretum's site. `body` is HTML with add-on blocks as `[[name attribute="value"]]`. */
export interface SitePage {
  path: string
  title: string
  kind: string
  area: 'public' | 'office'
  lead: string
  body: string
  picture: number
  /** What an editor chose in the place of the drawn picture: it waits like all that editors put in, though it is in sight at once. */
  photograph?: string
  /** Only people with one of these roles see it; everybody without. */
  roles?: ('editor' | 'member')[]
  /** Never kept by the page cache, because it is another for every visitor. */
  personal?: boolean
  /** Not in the CMS's list of pages. */
  unlisted?: boolean
  /** When its words were last changed, as ISO 8601 date. */
  modified?: string
}
