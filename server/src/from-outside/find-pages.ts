import { gunzipSync } from 'node:zlib'
import { Parser } from 'htmlparser2'
import { readSitemap, SitemapProblem, sitemapsOfRobots, type Sitemap } from '@unvelt/core'
import type { Reach } from '../reach/reach.js'
import { boundedBytes, siteFetch } from '../site-http/site-fetch.js'
import { siteName, withoutSiteName } from './site-name.js'

export interface FoundPage {
  /** Path with query. */
  path: string
  title: string | null
  modified: string | null
}

export interface FoundPages {
  from: 'sitemap' | 'links'
  pages: FoundPage[]
  /** What the site calls itself. */
  name: string | null
}

export interface Bounds {
  /** Pages that are kept of a sitemap. */
  most: number
  /** Pages that are fetched where links have to be followed. */
  mostFollowed: number
  withinMs: number
}
export const BOUNDS: Bounds = { most: 5_000, mostFollowed: 150, withinMs: 60_000 }

const MOST_SITEMAPS = 60
const MOST_SITEMAP_BYTES = 52e6
const MOST_PAGE_BYTES = 4e6
const AT_A_TIME = 4

/** Finds a site's pages as any visitor could: by its sitemap, or by following the links of its pages. */
export async function findPages(origin: string, reach: Reach, bounds: Bounds = BOUNDS): Promise<FoundPages> {
  const until = Date.now() + bounds.withinMs
  const front = await fetchPage(`${origin}/`, origin, reach)
  if (!front) throw new Error('The front page is no page that can be read.')
  const listed = await pagesOfSitemaps(origin, reach, bounds.most, until)
  if (listed.length > 0) {
    const pages = withFront(listed, front)
    const second = pages[1] && (await fetchPage(origin + pages[1].path, origin, reach))
    return named('sitemap', pages, front, [second?.title ?? null])
  }
  const pages = await followLinks(front, origin, reach, bounds, until)
  const others = pages.slice(1).map(({ title }) => title)
  return named('links', pages, front, others)
}

function named(
  from: FoundPages['from'],
  pages: FoundPage[],
  front: FetchedPage,
  others: (string | null)[],
): FoundPages {
  const name = front.siteName ?? siteName(front.title, others)
  return {
    from,
    name,
    pages: pages.map((page) => ({ ...page, title: page.title && withoutSiteName(page.title, name) })),
  }
}

const withFront = (pages: FoundPage[], front: FetchedPage): FoundPage[] => {
  const rest = pages.filter(({ path }) => path !== '/')
  return [{ ...(pages.find(({ path }) => path === '/') ?? { modified: null }), path: '/', title: front.title }, ...rest]
}

/** Paths of the site's own pages that its sitemaps list; none where it has no sitemap. */
export async function sitemapPaths(
  origin: string,
  reach: Reach,
  { most, withinMs }: Bounds = BOUNDS,
): Promise<string[]> {
  return (await pagesOfSitemaps(origin, reach, most, Date.now() + withinMs)).map(({ path }) => path)
}

async function pagesOfSitemaps(origin: string, reach: Reach, most: number, until: number): Promise<FoundPage[]> {
  const robots = await fetchText(`${origin}/robots.txt`, 500_000, reach)
  const queue = [...new Set([...sitemapsOfRobots(robots ?? ''), `${origin}/sitemap.xml`])]
  const seen = new Set<string>()
  const pages = new Map<string, FoundPage>()
  while (queue.length > 0 && seen.size < MOST_SITEMAPS && pages.size < most && Date.now() < until) {
    const url = queue.shift()!
    // Another host's sitemap may list this site's pages, but it isn't for this site to make the server ask there.
    if (seen.has(url) || new URL(url).origin !== origin) continue
    seen.add(url)
    const sitemap = await sitemapAt(url, reach)
    queue.push(...(sitemap?.sitemaps ?? []))
    for (const { url: page, modified } of sitemap?.pages ?? []) {
      const path = ownPath(page, origin)
      if (path !== null && pages.size < most && !pages.has(path)) pages.set(path, { path, title: null, modified })
    }
  }
  return [...pages.values()]
}

/** Null where there is none or it is not one: a page that says *not found* is the usual answer. */
async function sitemapAt(url: string, reach: Reach): Promise<Sitemap | null> {
  const text = await fetchText(url, MOST_SITEMAP_BYTES, reach)
  if (text === null) return null
  try {
    return readSitemap(text)
  } catch (error) {
    if (error instanceof SitemapProblem) return null
    throw error
  }
}

interface FetchedPage {
  title: string | null
  siteName: string | null
  links: string[]
}

/** Level by level from the front page, so that what is near it comes first. */
async function followLinks(
  front: FetchedPage,
  origin: string,
  reach: Reach,
  { mostFollowed }: Bounds,
  until: number,
): Promise<FoundPage[]> {
  const found: FoundPage[] = [{ path: '/', title: front.title, modified: null }]
  const known = new Set(['/'])
  let level = front.links
  while (level.length > 0 && found.length < mostFollowed && Date.now() < until) {
    const next: string[] = []
    const fresh = [...new Set(level)].filter((path) => !known.has(path)).slice(0, mostFollowed - found.length)
    for (const path of fresh) known.add(path)
    for (let at = 0; at < fresh.length && Date.now() < until; at += AT_A_TIME) {
      const paths = fresh.slice(at, at + AT_A_TIME)
      const pages = await Promise.all(paths.map((path) => fetchPage(origin + path, origin, reach)))
      pages.forEach((page, n) => {
        if (!page) return
        found.push({ path: paths[n]!, title: page.title, modified: null })
        next.push(...page.links)
      })
    }
    level = next
  }
  return found
}

/** A page with its title and the pages of the same site that it links to; null where it is none. */
async function fetchPage(url: string, origin: string, reach: Reach): Promise<FetchedPage | null> {
  const bytes = await fetchBytes(url, MOST_PAGE_BYTES, reach, 'text/html')
  if (!bytes) return null
  const links: string[] = []
  let title = ''
  let siteName: string | null = null
  let inTitle = false
  let base = url
  const parser = new Parser({
    onopentag(name, { href, rel = '', property, content }) {
      if (name === 'meta' && property === 'og:site_name') siteName ??= tidy(content ?? '')
      if (name === 'title' && title === '') inTitle = true
      if (name === 'base' && href && URL.canParse(href, url)) base = new URL(href, url).href
      if (name !== 'a' || !href || /\bnofollow\b/.test(rel) || !URL.canParse(href, base)) return
      const path = ownPath(new URL(href, base).href, origin)
      // A query is more often another view of the same page than a page; what a link does by itself is not to be done.
      if (path !== null && !path.includes('?') && !LEAVES.test(path)) links.push(path)
    },
    ontext(text) {
      if (inTitle) title += text
    },
    onclosetag(name) {
      if (name === 'title') inTitle = false
    },
  })
  parser.end(bytes.toString('utf8'))
  return { title: tidy(title), siteName, links }
}

const tidy = (text: string) => text.trim().replace(/\s+/g, ' ').slice(0, 200) || null

/** Files that are no pages, and addresses that do something. */
const LEAVES =
  /\.(?:png|jpe?g|gif|svg|webp|avif|ico|pdf|zip|gz|css|js|json|xml|txt|mp[34]|webm|ics|csv)$|\/(?:log-?out|sign-?out)\b/i

/** The path of an address on the site itself; null of another's. */
function ownPath(address: string, origin: string): string | null {
  const url = new URL(address)
  return url.origin === origin ? url.pathname + url.search : null
}

async function fetchText(url: string, mostBytes: number, reach: Reach): Promise<string | null> {
  const bytes = await fetchBytes(url, mostBytes, reach)
  if (!bytes) return null
  if (bytes[0] !== 0x1f || bytes[1] !== 0x8b) return bytes.toString('utf8')
  try {
    return gunzipSync(bytes, { maxOutputLength: mostBytes }).toString('utf8')
  } catch {
    return null
  }
}

/** One redirect within the site is followed; whatever else is no answer of use here. */
async function fetchBytes(url: string, mostBytes: number, reach: Reach, type?: string): Promise<Buffer | null> {
  let at = url
  for (let hop = 0; hop < 3; hop++) {
    const response = await siteFetch(at, { reach, headers: { accept: type ?? '*/*' } })
    const location = response.headers.get('location')
    const ended = response.status < 300 || response.status >= 400 || location === null
    if (ended && response.status === 200 && (response.headers.get('content-type') ?? '').includes(type ?? ''))
      return boundedBytes(response, mostBytes).catch(() => null)
    await response.body?.cancel().catch(() => {})
    if (ended || !URL.canParse(location, at)) return null
    const next = new URL(location, at)
    if (next.origin !== new URL(url).origin) return null
    at = next.href
  }
  return null
}
