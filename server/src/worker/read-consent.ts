import { wentOut, type ConsentBanner, type Reading } from '@unvelt/core'
import type { ConsentOutsider, ConsentSide } from '@unvelt/contract'
import type { ReadingOrder } from '../browser/reading-order.js'
import { FIRST_LENSES, type LensConsent, type LensSettings } from '../lens/lens-settings.js'
import type { ConsentTaken, OnDemand } from '../on-demand/on-demand.model.js'
import { reachOf } from '../reach/reach.js'
import { failureSentence } from '../reading/failure.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import { siteAddress } from '../site-http/site-address.js'
import { readInLivingBrowser } from './read-in-living-browser.js'
import type { OnDemandTools } from './read-on-demand.js'

/**
 * Looks for what the site asks its visitors' consent by, and reads a page before anybody has answered it, after agreeing, and after
 * refusing, each by a browser that has never been there; an answer is pressed in one that nobody measures, and carried over. What was read
 * before a kill stays.
 */
export async function readConsent(tools: OnDemandTools, { wish, taken }: OnDemand<'consent'>): Promise<void> {
  const { site, key, keep } = tools
  const url = siteAddress(site.address, wish.path)
  const look = FIRST_LENSES.find(({ settings }) => settings.device.phone === wish.phone)!.settings
  const read = (consent: LensConsent | null, onConsentBanner?: ReadingOrder['onConsentBanner']) =>
    readInLivingBrowser(
      tools,
      {
        url: url.href,
        ownHosts: site.ownHosts,
        lens: { ...look, network: null, consent } satisfies LensSettings,
        reach: reachOf(site),
        clean: true,
        untimed: true,
        ...(onConsentBanner && { onConsentBanner }),
        ...(key && {
          measuringHeader: () => measuringHeader(url, key, { rules: 'live', cache: 'bypass' }, Date.now() / 1000),
        }),
      },
      false,
    )
  const soFar: ConsentTaken = structuredClone(taken)
  const isDone = (side: ConsentSide['side']) => soFar.sides.some((one) => one.side === side)
  if (!isDone('before')) {
    const reading = await read(null, (banner) => void (soFar.banner = banner))
    soFar.sides.push(sideOf('before', reading, site.ownHosts))
    await keep(soFar)
  }
  for (const [side, press] of answersOf(soFar.banner)) {
    if (isDone(side)) continue
    try {
      soFar.sides.push(sideOf(side, await read({ answer: side, by: 'press', ...press }), site.ownHosts))
    } catch (error) {
      if (tools.stopping()) throw error
      soFar.sides.push({ side, requests: 0, transferBytes: 0, outsiders: [], failure: failureSentence(error) })
    }
    await keep(soFar)
  }
}

const answersOf = (banner: ConsentBanner | null) =>
  banner
    ? [
        ['agreed' as const, banner.agree] as const,
        ...(banner.refuse ? [['refused' as const, banner.refuse] as const] : []),
      ]
    : []

function sideOf(side: ConsentSide['side'], { requests }: Reading, ownHosts: readonly string[]): ConsentSide {
  const out = requests.filter((request) => wentOut(request) && /^https?:/.test(request.url))
  const byHost = new Map<string, ConsentOutsider>()
  for (const { url, transferBytes } of out) {
    const { host } = new URL(url)
    if (ownHosts.includes(host)) continue
    const known = byHost.get(host) ?? { host, requests: 0, transferBytes: 0 }
    byHost.set(host, {
      host,
      requests: known.requests + 1,
      transferBytes: known.transferBytes + transferBytes,
    })
  }
  return {
    side,
    requests: out.length,
    transferBytes: out.reduce((sum, request) => sum + request.transferBytes, 0),
    outsiders: [...byHost.values()].sort((a, b) => b.transferBytes - a.transferBytes),
    failure: null,
  }
}
