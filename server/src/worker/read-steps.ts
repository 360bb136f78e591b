import { FIRST_LENSES, type LensSettings } from '../lens/lens-settings.js'
import { LensRow } from '../lens/lens.model.js'
import type { OnDemand } from '../on-demand/on-demand.model.js'
import { reachOf } from '../reach/reach.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import { siteAddress } from '../site-http/site-address.js'
import { readInLivingBrowser } from './read-in-living-browser.js'
import type { OnDemandTools } from './read-on-demand.js'

/** Plays steps on a page of the live site, each time on a fresh one, under the rules that are live. */
export async function readSteps(tools: OnDemandTools, { wish, taken }: OnDemand<'steps'>): Promise<void> {
  const { site, key, keep } = tools
  const url = siteAddress(site.address, wish.path)
  const lens = await lensOf(site.id, wish.device)
  const hasTrials = site.connector?.measuring?.trials === true
  const header = (at: URL, method = 'GET') =>
    measuringHeader(
      at,
      key!,
      { rules: 'live', cache: 'bypass', trial: method === 'POST' && hasTrials ? 'visitor' : undefined },
      Date.now() / 1000,
    )
  const times = structuredClone(taken)
  while (times.length < wish.times) {
    const { steps } = await readInLivingBrowser(
      tools,
      {
        url: url.href,
        ownHosts: site.ownHosts,
        lens,
        reach: reachOf(site),
        untimed: true,
        steps: wish.steps,
        ...(key && { measuringHeader: () => header(url) }),
        onward: (at, method) => (key && at.origin === url.origin ? header(at, method) : null),
      },
      false,
    )
    const asked = new Set(wish.steps.map(({ name }) => name))
    times.push(
      steps.flatMap(({ name, outcome, why }) =>
        asked.has(name) ? [{ name, outcome, ...(why !== undefined && { why }) }] : [],
      ),
    )
    await keep(times)
  }
}

/** The first lens of such a device, signed out. */
async function lensOf(siteId: number, device: 'desk' | 'handset'): Promise<LensSettings> {
  const known = [...(await LensRow.findAll({ where: { siteId }, order: ['id'] })), ...FIRST_LENSES]
  const fits = ({ device: { phone }, visitor, cache }: LensSettings) =>
    phone === (device === 'handset') && visitor.kind === 'signed-out' && cache === 'cold'
  return known.find(({ settings }) => fits(settings))!.settings
}
