import type { Browser } from 'playwright-core'
import { ReadingFailure } from '../reading/failure.js'
import { OtherCertificate, shownCertificate } from '../site-http/certificate.js'
import { wayTo } from '../site-http/site-way.js'
import { WayOut, type LineSpeed } from '../reach/way-out.js'
import { browserTrusting } from './browser.js'
import { portsOf } from './ports-of.js'
import type { ReadingOrder } from './reading-order.js'

/** A browser that takes what a site shows, and the way that it goes out. */
export interface ByWay {
  browser: Browser
  way: WayOut
}

/**
 * The way to a site's page: by names that are mapped for it, and in a browser that takes the certificate that was accepted.
 * @throws ReadingFailure where the site shows another one.
 */
export async function byWayOf(
  browser: Browser,
  order: Pick<ReadingOrder, 'url' | 'ownHosts' | 'reach'>,
  speed: LineSpeed | null,
): Promise<ByWay> {
  const { host, origin, protocol } = new URL(order.url)
  const known = await wayTo(host)
  const start = () => WayOut.start(order.reach, speed, portsOf(order), known?.hosts)
  const pinned = protocol === 'https:' ? known?.certificate : null
  if (!pinned) return { browser, way: await start() }
  const shown = await shownCertificate(origin, order.reach).catch(() => null)
  // A site that is away says so itself.
  if (shown && shown.fingerprint !== pinned.fingerprint)
    throw new ReadingFailure(`${new OtherCertificate(host, shown.fingerprint).message}.`)
  return { browser: await browserTrusting(browser, pinned.spki), way: await start() }
}
