import type { SitemapPages } from '@unvelt/contract'
import { PageRow } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import { reachOf } from '../reach/reach.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import type { SiteRow } from '../site/site.model.js'
import { sitemapPaths } from './find-pages.js'

const MOST_NAMED = 20

/**
 * Which of a site's pages are in its sitemap now.
 * @throws ProblemError where it has none.
 */
export async function sitemapPages(site: SiteRow): Promise<SitemapPages> {
  const paths = await sitemapPaths(site.address, reachOf(site)).catch((error: unknown) => {
    throw new ProblemError(502, whyUnreachable(error, new URL(site.address).host))
  })
  if (paths.length === 0)
    throw new ProblemError(404, 'The site has no sitemap: neither its robots.txt nor /sitemap.xml leads to one.')
  const pages = await PageRow.findAll({ where: { siteId: site.id, gone: false }, order: ['position'] })
  const listed = new Set(paths)
  const known = new Set(pages.map(({ path }) => path))
  const unknown = paths.filter((path) => !known.has(path))
  return {
    listed: paths.length,
    pageIds: pages.filter(({ path }) => listed.has(path)).map(({ id }) => id),
    unknown: unknown.slice(0, MOST_NAMED),
    unknownCount: unknown.length,
  }
}
