import fc from 'fast-check'
import { kindsOfPaths, readSitemap, SitemapProblem, sitemapsOfRobots } from '../src/index.js'
import { ownFolder } from '../src/attribution/own-folder.js'

const set = (inner: string) =>
  `<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${inner}</urlset>`
const problem = (text: string): SitemapProblem => {
  try {
    readSitemap(text)
  } catch (error) {
    if (error instanceof SitemapProblem) return error
  }
  throw new Error('it was read')
}

describe('a sitemap', () => {
  it('lists its pages with the day of their last change', () => {
    const text = set(`<url><loc> https://a.test/x?y=1&amp;z=2 </loc><lastmod>2026-03-04T10:00:00Z</lastmod></url>
      <url><loc><![CDATA[https://a.test/z]]></loc><lastmod>soon</lastmod></url>`)
    expect(readSitemap(text).pages).toEqual([
      { url: 'https://a.test/x?y=1&z=2', modified: '2026-03-04' },
      { url: 'https://a.test/z', modified: null },
    ])
  })

  it('takes no picture’s address for a page’s, and no address that is not of the web', () => {
    const text = `<s:urlset xmlns:s="s" xmlns:i="i"><s:url><s:loc>https://a.test/</s:loc><i:image><i:loc>https://a.test/p.png</i:loc></i:image></s:url>
      <s:url><s:loc>javascript:alert(1)</s:loc></s:url><s:url><s:loc>file:///etc/passwd</s:loc></s:url></s:urlset>`
    expect(readSitemap(text).pages.map(({ url }) => url)).toEqual(['https://a.test/'])
  })

  it('takes the first of two addresses, none of an extension, and tells what it passed over, with the line', () => {
    const { pages, passedOver } = readSitemap(
      set(`<url><loc>https://a.test/1</loc><loc>https://a.test/2</loc></url>
      <url><loc>https://a.test/3</loc><image:loc xmlns:image="i">https://a.test/p.png</image:loc></url>
      <url><loc>/relative</loc></url>`),
    )
    expect(pages.map(({ url }) => url)).toEqual(['https://a.test/1', 'https://a.test/3'])
    expect(passedOver.map(({ line }) => line)).toEqual([1, 3])
  })

  it('may be an index of further ones', () => {
    const text = '<sitemapindex><sitemap><loc>https://a.test/1.xml</loc></sitemap></sitemapindex>'
    expect(readSitemap(text)).toMatchObject({ pages: [], sitemaps: ['https://a.test/1.xml'] })
  })

  it.each([
    ['a page instead', '<!doctype html><html></html>', 1, 'expected XML'],
    ['another XML', '\n<rss></rss>', 2, 'expected <urlset>'],
    ['cut off', '<urlset>\n<url>', 2, 'expected XML'],
    ['entities that grow', '<!DOCTYPE x [<!ENTITY a "aaaa">]><urlset></urlset>', 1, 'document type'],
  ])('that is %s is refused with its line', (_, text, line, said) => {
    expect(problem(text).line).toBe(line)
    expect(problem(text).message).toContain(said)
  })

  it('gives back what was written into it, whatever the addresses', () => {
    const escape = (url: string) => url.replace(/&/g, '&amp;').replace(/</g, '&lt;')
    fc.assert(
      fc.property(fc.array(fc.webUrl({ withQueryParameters: true, withFragments: true })), (urls) => {
        const text = set(urls.map((url) => `<url><loc>${escape(url)}</loc></url>`).join(''))
        expect(readSitemap(text).pages.map(({ url }) => url)).toEqual(urls)
      }),
    )
  })

  it('is named by robots.txt', () => {
    const robots = 'User-agent: *\nDisallow: /x\nSITEMAP: https://a.test/s.xml\nSitemap: /relative.xml\n'
    expect(sitemapsOfRobots(robots)).toEqual(['https://a.test/s.xml'])
  })
})

describe('kinds by path', () => {
  it('are the folders that several pages share', () => {
    expect(kindsOfPaths(['/', '/about', '/articles/', '/articles/a', '/articles/b?x=1', '/lone/one'])).toEqual([
      'page',
      'page',
      'page',
      'articles',
      'articles',
      'page',
    ])
  })
})

describe('a file’s own folder', () => {
  it.each([
    ['/plugins/tour/js/tour.js', '/plugins/tour/'],
    ['/js/tour.js', '/js/'],
    ['/tour.js', '/tour.js'],
    ['/plugins/tour/', '/plugins/'],
  ])('of %s is %s', (path, folder) => expect(ownFolder(path)).toBe(folder))
})
