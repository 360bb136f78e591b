import type { SitePage } from '../content/site-page.js'

/** An event of long ago: nobody has taken it out of the sitemap. */
const GONE = '/events/spring-fair'

const PROTOCOL = 'http://www.sitemaps.org/schemas/sitemap/0.9'

/** What the CMS tells search engines: the pages that anybody may see and that are the same for everybody. */
export function sitemap(pages: readonly SitePage[], origin: string): string {
  const open = pages.filter(
    ({ area, roles, personal, unlisted }) => area === 'public' && !roles && !personal && !unlisted,
  )
  const entries = [...open.map(({ path, modified }) => ({ path, modified })), { path: GONE, modified: '2019-04-27' }]
  const urls = entries.map(
    ({ path, modified }) =>
      `<url><loc>${origin}${encodeURI(path)}</loc>${modified ? `<lastmod>${modified}</lastmod>` : ''}</url>`,
  )
  return `<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="${PROTOCOL}">\n${urls.join('\n')}\n</urlset>\n`
}

export const robots = (origin: string): string => `User-agent: *\nDisallow: /office\nSitemap: ${origin}/sitemap.xml\n`
