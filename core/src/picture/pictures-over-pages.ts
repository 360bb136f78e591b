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
  /** Bytes that a lighter picture spares in 1,000 page views; where it comes only when it is scrolled to, it is not counted. */
  spared: number
  /** Bytes that come again in 1,000 page views, because pages ask for it under several addresses. */
  twice: number
}

const VIEWS = 1_000

/**
 * The pictures of a site, each once, what spares the most first. Weighted by page views where any are known; else every page counts
 * alike. Linear in the pictures.
 */
export function picturesOverPages<P extends PictureOnPage>(pages: readonly LookedAtPage<P>[]): PictureOverPages<P>[] {
  const total = pages.reduce((sum, { views }) => sum + (views ?? 0), 0)
  const weigh = ({ views }: LookedAtPage<P>) => (VIEWS * (total > 0 ? (views ?? 0) : 1)) / (total || pages.length)
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
      if (!waits) entry.weight += weigh(page)
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
