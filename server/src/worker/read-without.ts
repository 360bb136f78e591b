import { wentOut, type Reading } from '@unvelt/core'
import { wasBlocked } from '../browser/blocked.js'
import type { ReadingOrder } from '../browser/reading-order.js'
import { FIRST_LENSES } from '../lens/lens-settings.js'
import { LensRow } from '../lens/lens.model.js'
import type { OnDemand, WithoutFigures } from '../on-demand/on-demand.model.js'
import { PageRow } from '../page/page.model.js'
import { reachOf } from '../reach/reach.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import { siteAddress } from '../site-http/site-address.js'
import { readInLivingBrowser } from './read-in-living-browser.js'
import type { OnDemandTools } from './read-on-demand.js'

/**
 * Reads a page with and without some outsiders in turn, past the site's caches and through its first signed-out lens. What was
 * read before the job was broken off stays.
 */
export async function readWithout(tools: OnDemandTools, { pageId, wish, taken }: OnDemand<'without'>): Promise<void> {
  const { site, key, keep } = tools
  const page = (await PageRow.findByPk(pageId!))!
  const lenses = await LensRow.findAll({ where: { siteId: site.id }, order: ['id'] })
  const { settings } = lenses.find((lens) => lens.settings.visitor.kind === 'signed-out') ?? FIRST_LENSES[0]!
  const url = siteAddress(site.address, page.path)
  const sides = structuredClone(taken)
  while (sides.without.length < wish.repeats) {
    const side = sides.with.length > sides.without.length ? 'without' : 'with'
    const order: ReadingOrder = {
      url: url.href,
      ownHosts: site.ownHosts,
      lens: settings,
      reach: reachOf(site),
      // Only what it costs is compared, and looking at more would slow the page.
      clean: true,
      ...(key && {
        measuringHeader: () => measuringHeader(url, key, { rules: 'live', cache: 'bypass' }, Date.now() / 1000),
      }),
      ...(side === 'without' && {
        blocked: wish.payers.length === 0 ? { allBut: site.ownHosts } : { hosts: wish.hosts },
      }),
    }
    sides[side].push(figuresOf(await readInLivingBrowser(tools, order, true)))
    await keep(sides)
  }
}

function figuresOf({ requests, timings, mainThread, consoleErrors }: Reading): WithoutFigures {
  const out = requests.filter((request) => wentOut(request) && !wasBlocked(request))
  const sum = (of: (request: Reading['requests'][number]) => number) => out.reduce((total, r) => total + of(r), 0)
  return {
    requests: out.length,
    transferBytes: sum((r) => r.transferBytes),
    decodedBytes: sum((r) => r.decodedBytes),
    mainThreadMs: mainThread.reduce((total, { ms }) => total + ms, 0),
    loadMs: timings.load,
    largestPaintMs: timings.largestContentfulPaint,
    blockingMs: timings.totalBlockingTime,
    // That a file was refused is what was asked for, and no complaint.
    complaints: consoleErrors.filter((text) => !text.includes('ERR_BLOCKED_BY_CLIENT')),
  }
}
