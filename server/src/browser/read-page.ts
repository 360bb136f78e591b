import type { Browser, BrowserContext, Page } from 'playwright-core'
import type { Reading } from '@unvelt/core'
import { ReadingFailure } from '../reading/failure.js'
import { DEFAULT_LIMITS } from './limits.js'
import { knownAnswer, pressAnswer, type AnsweredState } from './answer-consent.js'
import { contextOf } from './look-through.js'
import { byWayOf } from './by-way.js'
import type { WayOut } from '../reach/way-out.js'
import { PageReader } from './page-reader.js'
import type { ReadingOrder } from './reading-order.js'
import { cookiesFor } from '../site-http/sign-in.js'
import { whileConnected } from './while-connected.js'
import { withinTime } from './within-time.js'

/** A reading that has its page, and waits to begin. */
export interface ReadyReading {
  /**
   * Loads the page and writes down everything. It is finished when its load event has come and no request has been under
   * way for 500 ms; a page that never falls quiet is read as it stands. Nothing of it is left over, however it ends.
   * @throws ReadingFailure or a browser error when there is nothing to read.
   */
  read(): Promise<Reading>
}

/** Opens a page in a fresh context for one reading. To be read in any case, since that closes it. */
export async function readyPage(shared: Browser, order: ReadingOrder): Promise<ReadyReading> {
  // Where nobody looks at the times, the line is as fast as it can be.
  const speed = order.untimed ? null : order.lens.network
  const { browser, way } = await byWayOf(shared, order, speed)
  const { hardMs } = order.limits ?? DEFAULT_LIMITS
  const bounded = <T>(asked: Promise<T>) =>
    whileConnected(browser, withinTime(hardMs, asked, `The page kept the browser busy for ${hardMs / 1000} s.`)).catch(
      (error: unknown) => {
        throw whyNotReached(way, order.url, error) ?? error
      },
    )
  let context: BrowserContext | null = null
  const close = async () => {
    await way.stop()
    // A browser that can't even close a page is of no more use; the worker starts another one.
    if (context && browser.isConnected()) await withinTime(CLOSE_MS, context.close(), '').catch(() => browser.close())
  }
  try {
    const state = await bounded(answered(browser, order, way))
    const through = { proxy: way.address, recordHarTo: order.recordHarTo, state }
    context = await whileConnected(browser, contextOf(browser, order.lens, through))
    context.on('page', (page) => void closeIfOpened(page))
    const reader = await bounded(readerIn(context, order, () => way.hurry()))
    return {
      read: async () => {
        try {
          const reading = await bounded(reader.read())
          return inBrowsersWords(reading, way)
        } finally {
          await close()
        }
      },
    }
  } catch (error) {
    await close()
    throw error
  }
}

/** Loads one page once in a fresh context and writes down everything. */
export async function readPage(browser: Browser, order: ReadingOrder): Promise<Reading> {
  return (await readyPage(browser, order)).read()
}

async function readerIn(context: BrowserContext, order: ReadingOrder, hurry: () => void): Promise<PageReader> {
  if (order.cookie) await context.addCookies(cookiesFor(order.cookie, new URL(order.url).origin))
  // A second view is looked at after a first one, by the same browser.
  if (order.lens.cache === 'warm') {
    const first = await context.newPage()
    const { steps: _, ...load } = order
    await (await PageReader.ready(first, { ...load, trace: undefined })).read()
    await first.close()
  }
  return PageReader.ready(await context.newPage(), order, hurry)
}

/** What the browser has of the answer that the lens gives to the site's question; undefined where it gives none. */
async function answered(browser: Browser, order: ReadingOrder, way: WayOut): Promise<AnsweredState | undefined> {
  const { url, lens } = order
  const { consent } = lens
  const known = consent && knownAnswer(url, consent)
  if (known || consent?.by !== 'press') return known ?? undefined
  const context = await whileConnected(browser, contextOf(browser, lens, { proxy: way.address }))
  try {
    if (order.cookie) await context.addCookies(cookiesFor(order.cookie, new URL(url).origin))
    const page = await context.newPage()
    await (
      await PageReader.ready(page, {
        url,
        ...(order.ownHosts && { ownHosts: order.ownHosts }),
        ...(order.measuringHeader !== undefined && { measuringHeader: order.measuringHeader }),
        ...(order.cookie !== undefined && { cookie: order.cookie }),
        lens: { ...lens, consent: null },
        reach: order.reach,
        clean: true,
        untimed: true,
      })
    ).read()
    return await pressAnswer(context, page, url, consent)
  } finally {
    if (browser.isConnected()) await context.close().catch(() => {})
  }
}

/** What is known on the way out of why an address was not reached; null where nothing is. */
export function whyNotReached(way: WayOut, url: string, error: unknown): Error | null {
  const { hostname } = new URL(url)
  // What a page asks for beside itself may well be closed; it is the page's failure only where it is the page, or where it led there.
  const isOfPage = /ERR_SOCKS|ERR_PROXY/.test(String(error))
  const closed = way.closedTo(url) ?? (isOfPage ? [...way.refused.values()][0] : undefined)
  const words = way.failed.get(hostname)
  if (!closed) return words !== undefined && /ERR_SOCKS/.test(String(error)) ? new Error(words) : null
  return new ReadingFailure(
    closed.port === null ? `${closed.message}, and the site is not marked as local.` : `${closed.message}.`,
  )
}

/** What did not get through on the way out failed for the reason that is known there, whatever the browser took it for. */
function inBrowsersWords(reading: Reading, way: WayOut): Reading {
  for (const request of reading.requests) {
    if (request.failure === undefined) continue
    const { hostname } = new URL(request.url)
    const closed = way.closedTo(request.url)
    if (closed)
      request.failure =
        closed.port === null ? 'out of reach: not a public address' : 'out of reach: not a port of the site’s'
    else if (/ERR_SOCKS/.test(request.failure)) request.failure = way.failed.get(hostname) ?? request.failure
  }
  return reading
}

/** What a page opens beside itself is none of its reading. */
async function closeIfOpened(page: Page): Promise<void> {
  if (await page.opener().catch(() => null)) await page.close().catch(() => {})
}

const CLOSE_MS = 10_000
