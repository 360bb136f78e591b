import type { PicturePlace } from './drawn-picture.js'

/** A picture as it was found on one page. Bytes of its body; pixels as the file has them and as this page needs them. */
export interface PictureOnPage {
  url: string
  /** Of its bytes, so that one picture under many addresses is known; empty where it was not taken. */
  hash: string
  bytes: number
  neededWidth: number
  neededHeight: number
  /** Bytes of the lightest way in which it was made anew; null where none is lighter. */
  lightest: number | null
  where: PicturePlace
  lazy: boolean
}

export interface LookedAtPage<P extends PictureOnPage> {
  pageId: number
  /** Page views, where they are known. */
  views: number | null
  pictures: readonly P[]
}

/** A picture over all pages that draw it. */
export interface PictureOverPages<P extends PictureOnPage> {
  /** As it is where it is needed largest: made any smaller it would not do there. */
  foremost: { pageId: number; n: number; picture: P }
  /** Every address that gives just these bytes, as first met. */
  addresses: string[]
  pageIds: number[]
  /** Of these pages, on how many it comes without being scrolled to. */
  comesOn: number
  /** Bytes that a lighter picture spares in 1,000 page views; where it comes only when it is scrolled to, it is not counted. */
  spared: number
  /** Bytes that come again in 1,000 page views, because pages ask for it under several addresses. */
  twice: number
}

/** How often all pages are viewed together, where it is known, and how many there are. */
export interface SiteVisits {
  views: number
  pages: number
}

const VIEWS = 1_000

/** Of 1,000 page views of a site, how many are of this page; where no views are known every page counts alike. */
export const viewsInThousand = ({ views }: { views: number | null }, site: SiteVisits): number =>
  site.views > 0 ? (VIEWS * (views ?? 0)) / site.views : VIEWS / Math.max(1, site.pages)

/**
 * The pictures of a site, each once, what spares the most first. Linear in the pictures.
 *
 * @param site All of it, pages that were not looked at among them: they are visited, too.
 */
export function picturesOverPages<P extends PictureOnPage>(
  pages: readonly LookedAtPage<P>[],
  site: SiteVisits,
): PictureOverPages<P>[] {
  const weigh = (page: LookedAtPage<P>) => viewsInThousand(page, site)
  const found = new Map<string, PictureOverPages<P> & { weight: number }>()
  for (const page of pages) {
    const here = new Map<string, { loads: number; waits: boolean }>()
    for (const [n, picture] of page.pictures.entries()) {
      const key = picture.hash === '' ? picture.url : `${picture.hash} ${picture.bytes}`
      const known = found.get(key)
      const entry = known ?? {
        foremost: { pageId: page.pageId, n, picture },
        addresses: [],
        pageIds: [],
        comesOn: 0,
        spared: 0,
        twice: 0,
        weight: 0,
      }
      if (!known) found.set(key, entry)
      if (!entry.addresses.includes(picture.url)) entry.addresses.push(picture.url)
      if (pixels(picture) > pixels(entry.foremost.picture)) entry.foremost = { pageId: page.pageId, n, picture }
      const waits = picture.lazy && picture.where !== 'in view'
      const before = here.get(key)
      here.set(key, { loads: (before?.loads ?? 0) + 1, waits: (before?.waits ?? true) && waits })
    }
    for (const [key, { loads, waits }] of here) {
      const entry = found.get(key)!
      entry.pageIds.push(page.pageId)
      entry.twice += (loads - 1) * entry.foremost.picture.bytes * weigh(page)
      if (waits) continue
      entry.weight += weigh(page)
      entry.comesOn++
    }
  }
  return [...found.values()]
    .map(({ weight, ...entry }) => {
      const { bytes, lightest } = entry.foremost.picture
      return { ...entry, spared: lightest === null ? 0 : Math.max(0, bytes - lightest) * weight }
    })
    .sort((a, b) => b.spared + b.twice - (a.spared + a.twice) || b.foremost.picture.bytes - a.foremost.picture.bytes)
}

const pixels = ({ neededWidth, neededHeight }: PictureOnPage) => neededWidth * neededHeight
