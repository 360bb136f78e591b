import type { Browser, BrowserContext, Page, Request, Response } from 'playwright-core'
import { PICTURE_PLACES, type DrawnPicture } from '@unvelt/core'
import { contextOf } from '../browser/look-through.js'
import { letIn } from '../browser/let-in.js'
import { MEASURING_HEADER } from '../site-http/measuring-header.js'
import { hostOf } from '../browser/page-reader.js'
import { byWayOf } from '../browser/by-way.js'
import { whyNotReached } from '../browser/read-page.js'
import type { ReadingOrder } from '../browser/reading-order.js'
import { withinTime } from '../browser/within-time.js'
import { addHeadersOnward } from '../browser/onward-headers.js'
import { explained, ReadingFailure } from '../reading/failure.js'

const MOST_DRAWN = 1_000
const MOST_FILES = 100
const MOST_BYTES = 20e6
const MOST_BYTES_TOGETHER = 150e6
const LONGEST_MS = 90_000
const LONGEST_LOAD_MS = 45_000
const QUIET_WAIT_MS = 5_000
const CLOSE_MS = 10_000

/** The pictures of a page that was looked at to its end. */
export interface PicturesSeen {
  drawn: DrawnPicture[]
  /** With where they stand, as pictures are told. */
  frames: DrawnPicture[]
  /** Bodies by address. */
  files: Map<string, Buffer>
  /** Device pixels to one CSS pixel. */
  ratio: number
}

/** Loads a page, goes down to its end so that lazy pictures come, and takes down each picture with the size at which it is drawn. */
export async function lookAtPictures(
  shared: Browser,
  order: Pick<ReadingOrder, 'url' | 'lens' | 'reach' | 'ownHosts' | 'measuringHeader'>,
): Promise<PicturesSeen> {
  const { browser, way } = await byWayOf(shared, order, null)
  let context: BrowserContext | null = null
  try {
    context = await contextOf(browser, order.lens, { proxy: way.address })
    return await withinTime(
      LONGEST_MS,
      look(await context.newPage(), order),
      'The page kept the browser busy for too long.',
    )
  } catch (error) {
    throw whyNotReached(way, order.url, error) ?? error
  } finally {
    // A browser that can't even close a page is of no more use; the worker starts another one.
    if (context && browser.isConnected()) await withinTime(CLOSE_MS, context.close(), '').catch(() => browser.close())
    await way.stop()
  }
}

async function look(
  page: Page,
  order: Pick<ReadingOrder, 'url' | 'lens' | 'ownHosts' | 'measuringHeader'>,
): Promise<PicturesSeen> {
  const files = new Map<string, Buffer>()
  const coming: Promise<void>[] = []
  let together = 0
  const keep = async (response: Response) => {
    const body = await response.body().catch(() => null)
    if (!body || body.length === 0 || body.length > MOST_BYTES || together + body.length > MOST_BYTES_TOGETHER) return
    together += body.length
    // A picture stands in the document under the address that was asked for first, wherever that led.
    for (let asked: Request | null = response.request(); asked; asked = asked.redirectedFrom())
      files.set(asked.url(), body)
  }
  page.on('response', (response) => {
    if (response.request().resourceType() === 'image' && response.ok() && coming.length < MOST_FILES)
      coming.push(keep(response))
  })
  const { measuringHeader } = order
  const own = new URL(order.url).href
  const headerFor = (url: URL) => {
    if (url.href !== own || measuringHeader === undefined) return null
    return typeof measuringHeader === 'string' ? measuringHeader : measuringHeader()
  }
  const isClosed = await letIn(page, order, ({ url }): Record<string, string> => {
    const header = URL.canParse(url) ? headerFor(new URL(url)) : null
    return header === null ? {} : { [MEASURING_HEADER]: header }
  })
  // In a session of its own: Playwright answers on its own one.
  if (measuringHeader !== undefined && !isClosed)
    await addHeadersOnward(await page.context().newCDPSession(page), headerFor)
  const response = await page
    .goto(order.url, { waitUntil: 'load', timeout: LONGEST_LOAD_MS })
    .catch((error: unknown) => {
      throw explained(error, [])
    })
  if ((response?.status() ?? 0) >= 400) throw new ReadingFailure(`The page answered ${response!.status()}.`)
  const { host } = new URL(page.url())
  if (hostOf(page.url()) !== hostOf(order.url) && !order.ownHosts?.includes(host))
    throw new ReadingFailure(`The page leads away from its site, to ${host}.`)
  await quiet(page)
  await page.evaluate(goDown)
  await quiet(page)
  const told = await page.evaluate(askDrawn, MOST_DRAWN)
  await Promise.all(coming)
  return {
    drawn: (told.drawn as DrawnPicture[]).flatMap(plain),
    frames: (told.frames as DrawnPicture[]).flatMap(plain),
    files,
    ratio: order.lens.device.phone ? 2 : 1,
  }
}

const quiet = (page: Page) => page.waitForLoadState('networkidle', { timeout: QUIET_WAIT_MS }).catch(() => {})

/** Runs in the page. */
async function goDown(): Promise<void> {
  const most = Math.min(document.documentElement.scrollHeight, 60_000)
  for (let y = 0; y < most; y += innerHeight) {
    scrollTo({ top: y, behavior: 'instant' })
    await new Promise((resolve) => setTimeout(resolve, 60))
  }
  scrollTo({ top: 0, behavior: 'instant' })
}

/** Runs in the page. */
function askDrawn(most: number) {
  const paints: PerformanceEntry[] = []
  const observer = new PerformanceObserver(() => {})
  observer.observe({ type: 'largest-contentful-paint', buffered: true })
  paints.push(...observer.takeRecords())
  observer.disconnect()
  const largest = (paints.at(-1) as (PerformanceEntry & { url?: string }) | undefined)?.url ?? ''
  const drawn: { url: string; width: number; height: number; where: string; lazy: boolean; isLargest: boolean }[] = []
  const frames: typeof drawn = []
  const add = (element: Element, url: string, lazy: boolean, into = drawn) => {
    if (!url || into.length >= most) return
    const address = new URL(url, document.baseURI).href
    if (!/^https?:/.test(address)) return
    const box = element.getBoundingClientRect()
    const isShown =
      box.width > 0 &&
      box.height > 0 &&
      (element.checkVisibility?.({ opacityProperty: true, visibilityProperty: true }) ?? true)
    const where = !isShown
      ? 'not shown'
      : box.top + scrollY < innerHeight && box.left < innerWidth
        ? 'in view'
        : 'further down'
    into.push({ url: address, width: box.width, height: box.height, where, lazy, isLargest: address === largest })
  }
  for (const img of document.querySelectorAll('img')) add(img, img.currentSrc, img.loading === 'lazy')
  for (const input of document.querySelectorAll<HTMLInputElement>('input[type=image]')) add(input, input.src, false)
  for (const video of document.querySelectorAll('video[poster]')) add(video, (video as HTMLVideoElement).poster, false)
  for (const image of document.querySelectorAll<SVGImageElement>('svg image')) add(image, image.href.baseVal, false)
  for (const frame of document.querySelectorAll('iframe')) add(frame, frame.src, frame.loading === 'lazy', frames)
  let looked = 0
  for (const element of document.querySelectorAll('body, body *')) {
    if (++looked > 20_000) break
    for (const [, url] of getComputedStyle(element).backgroundImage.matchAll(/url\("([^"]+)"\)/g))
      add(element, url!, false)
  }
  return { drawn, frames }
}

const LONGEST = 100_000
/** The page may tell anything. */
function plain(told: DrawnPicture): DrawnPicture[] {
  const length = (value: unknown) => (typeof value === 'number' && value >= 0 && value < LONGEST ? value : 0)
  if (typeof told?.url !== 'string' || told.url.length > 4_000 || !PICTURE_PLACES.includes(told.where)) return []
  return [
    {
      url: told.url,
      width: length(told.width),
      height: length(told.height),
      where: told.where,
      lazy: told.lazy === true,
      isLargest: told.isLargest === true,
    },
  ]
}
