import type { ReadingOrder } from '../browser/reading-order.js'
import { FIRST_LENSES, type LensSettings } from '../lens/lens-settings.js'
import { LensRow } from '../lens/lens.model.js'
import { reachOf } from '../reach/reach.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import { siteAddress } from '../site-http/site-address.js'
import type { OnDemandTools } from './read-on-demand.js'

/** How a page of the live site is opened for its steps alone: under the rules that are live, past the site's caches, without times. */
export async function liveOrder(
  { site, key }: Pick<OnDemandTools, 'site' | 'key'>,
  { path, device }: { path: string; device: 'desk' | 'handset' },
): Promise<ReadingOrder> {
  const url = siteAddress(site.address, path)
  const hasTrials = site.connector?.measuring?.trials === true
  const header = (at: URL, method = 'GET') =>
    measuringHeader(
      at,
      key!,
      { rules: 'live', cache: 'bypass', trial: method === 'POST' && hasTrials ? 'visitor' : undefined },
      Date.now() / 1000,
    )
  return {
    url: url.href,
    ownHosts: site.ownHosts,
    lens: await lensOf(site.id, device),
    reach: reachOf(site),
    untimed: true,
    ...(key && { measuringHeader: () => header(url) }),
    onward: (at, method) => (key && at.origin === url.origin ? header(at, method) : null),
  }
}

/** The first lens of such a device, signed out. */
async function lensOf(siteId: number, device: 'desk' | 'handset'): Promise<LensSettings> {
  const known = [...(await LensRow.findAll({ where: { siteId }, order: ['id'] })), ...FIRST_LENSES]
  const fits = ({ device: { phone }, visitor, cache }: LensSettings) =>
    phone === (device === 'handset') && visitor.kind === 'signed-out' && cache === 'cold'
  return known.find(({ settings }) => fits(settings))!.settings
}
