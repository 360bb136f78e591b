/** What a page's sheet can show, one at a time; the choice stands in the address. */
export const PAGE_VIEWS = [
  ['time', 'Load over time'],
  ['server', 'On the server'],
  ['files', 'Files'],
  ['steps', 'Steps'],
  ['without', 'Without outsiders'],
  ['pictures', 'Pictures'],
  ['faces', 'Typefaces'],
  ['picture', 'How it looks'],
  ['console', 'Complaints'],
] as const
export type PageView = (typeof PAGE_VIEWS)[number][0]
