import type { OnDemand } from '../on-demand/on-demand.model.js'
import { PageRow } from '../page/page.model.js'
import { reachOf } from '../reach/reach.js'
import { askServer } from './ask-server.js'
import { siteAddress } from '../site-http/site-address.js'
import type { OnDemandTools } from './read-on-demand.js'

/**
 * Asks for a page past the caches and with them in turn, so that what drifts meanwhile drifts for both. The first answer
 * of all only opens the connection and is not kept.
 */
export async function readServer({ turns, site, key, keep }: OnDemandTools, row: OnDemand<'server'>): Promise<void> {
  const page = (await PageRow.findByPk(row.pageId!))!
  const question = { url: siteAddress(site.address, page.path), key, reach: reachOf(site), siteId: site.id }
  const readings = [...row.taken]
  await turns.beside(() => askServer({ ...question, cache: 'serve' }))
  while (readings.length < 2 * row.wish.times) {
    const cache = readings.length % 2 === 0 ? 'bypass' : 'serve'
    const { traceId: _, ...reading } = await turns.alone(() => askServer({ ...question, cache }))
    readings.push(reading)
    await keep(readings)
  }
}
