/** One address of the arboretum's site. `body` is HTML with add-on blocks as `[[name attribute="value"]]`. */
export interface SitePage {
  path: string
  title: string
  kind: string
  area: 'public' | 'office'
  lead: string
  body: string
  picture: number
}
