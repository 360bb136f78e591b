const PARTS = /\s+[–—|·:-]\s+/

/** What a site calls itself: the part of its front page's title that other pages have too; else the whole title. */
export function siteName(front: string | null, others: readonly (string | null)[]): string | null {
  const shared = (front ?? '')
    .split(PARTS)
    .find((part) => part !== '' && others.some((title) => title !== front && title?.split(PARTS).includes(part)))
  return shared ?? front
}

/** A page's title without the site's name behind or before it, which says nothing among pages of one site. */
export function withoutSiteName(title: string, name: string | null): string {
  const parts = title.split(PARTS)
  if (!name || parts.length < 2) return title
  if (parts.at(-1) === name) return title.slice(0, title.lastIndexOf(name)).replace(/\s+[–—|·:-]\s+$/, '')
  if (parts[0] === name) return title.slice(name.length).replace(PARTS, '')
  return title
}
