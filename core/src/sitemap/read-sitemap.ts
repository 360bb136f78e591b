import { SaxesParser } from 'saxes'

/** The format allows so many entries a file; what has more is not a sitemap. */
const MOST_ENTRIES = 50_000

export interface Sitemap {
  /** Addresses of pages, as written, with the day of their last change where it is told. */
  pages: { url: string; modified: string | null }[]
  /** Addresses of further sitemaps, where the file is an index of them. */
  sitemaps: string[]
  /** Entries that name no address that counts; the first ones of them. */
  passedOver: SitemapGap[]
}

const MOST_GAPS = 20

/** An entry of a sitemap that was passed over, and why. */
export interface SitemapGap {
  line: number
  expected: string
}

/** A file that can't be read as a sitemap: where, and what was expected. */
export class SitemapProblem extends Error {
  constructor(
    readonly line: number,
    expected: string,
  ) {
    super(`line ${line}: ${expected}`)
  }
}

/**
 * Reads a sitemap or an index of sitemaps. Source: sitemaps.org protocol 0.9. Only http and https addresses count.
 *
 * @throws SitemapProblem where it is no XML, another XML, or longer than the protocol allows.
 */
export function readSitemap(text: string): Sitemap {
  const sitemap: Sitemap = { pages: [], sitemaps: [], passedOver: [] }
  const parser = new SaxesParser()
  const path: string[] = []
  let entry = { url: '', modified: '', line: 0, locations: 0 }
  /** Extensions of the protocol (pictures, films) have prefixes of their own and say nothing of the page. */
  let prefix = ''
  const fail = (expected: string) => new SitemapProblem(parser.line, expected)
  parser.on('error', (error) => {
    throw fail(`expected XML; ${error.message.replace(/^\d+:\d+: /, '')}`)
  })
  parser.on('doctype', () => {
    throw fail('expected no document type in a sitemap')
  })
  const passOver = (line: number, expected: string) => {
    if (sitemap.passedOver.length < MOST_GAPS) sitemap.passedOver.push({ line, expected })
  }
  parser.on('opentag', ({ name }) => {
    if (path.length === 0) {
      const local = name.replace(/^.*:/, '')
      if (local !== 'urlset' && local !== 'sitemapindex')
        throw fail(`expected <urlset> or <sitemapindex>, found <${local.slice(0, 40)}>`)
      prefix = name.slice(0, name.length - local.length)
    }
    path.push(name.startsWith(prefix) ? name.slice(prefix.length) : name)
    if (path.length === 2) entry = { url: '', modified: '', line: parser.line, locations: 0 }
    if (path.length === 3 && path[2] === 'loc' && ++entry.locations === 2)
      passOver(parser.line, 'one <loc> in an entry; the first one counts')
  })
  const take = (value: string) => {
    if (path.length !== 3) return
    if (path[2] === 'loc' && entry.locations === 1) entry.url += value
    else if (path[2] === 'lastmod') entry.modified += value
  }
  parser.on('text', take)
  parser.on('cdata', take)
  parser.on('closetag', () => {
    const ended = path.pop()
    if (path.length !== 1 || (ended !== 'url' && ended !== 'sitemap')) return
    const url = entry.url.trim()
    if (!/^https?:\/\//i.test(url) || !URL.canParse(url))
      return passOver(entry.line, 'a <loc> with a whole address, http or https')
    if (ended === 'sitemap') sitemap.sitemaps.push(url)
    else sitemap.pages.push({ url, modified: /^\d{4}-\d\d-\d\d/.exec(entry.modified.trim())?.[0] ?? null })
    if (sitemap.pages.length + sitemap.sitemaps.length > MOST_ENTRIES)
      throw fail(`expected at most ${MOST_ENTRIES.toLocaleString('en')} entries`)
  })
  parser.write(text).close()
  return sitemap
}

/** The sitemaps that a robots.txt names. Source: RFC 9309, 2.2.4, and sitemaps.org. */
export function sitemapsOfRobots(text: string): string[] {
  return [...text.matchAll(/^[ \t]*sitemap[ \t]*:[ \t]*(\S+)/gim)]
    .map(([, url]) => url!)
    .filter((url) => /^https?:\/\//i.test(url) && URL.canParse(url))
}
