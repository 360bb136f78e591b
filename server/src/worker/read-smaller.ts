import { complainsOf, smallerPage, smallestSoFar, type Complaint, type GuardLook } from '@unvelt/core'
import type { ReadingOrder } from '../browser/reading-order.js'
import { CauseSearchRow } from '../complaint/cause.model.js'
import { partsOf, sourceOf } from '../complaint/document-parts.js'
import { LensRow } from '../lens/lens.model.js'
import { OnDemandRow, type OnDemand } from '../on-demand/on-demand.model.js'
import { PageRow } from '../page/page.model.js'
import { reachOf } from '../reach/reach.js'
import { ReadingFailure } from '../reading/failure.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import { signIn } from '../site-http/sign-in.js'
import { siteAddress } from '../site-http/site-address.js'
import { readInLivingBrowser } from './read-in-living-browser.js'
import type { OnDemandTools } from './read-on-demand.js'

/** Whoever has got so far has a small page; the rest of it is hardly worth the time. */
const MOST_TRIES = 150
/** What a page is like that has more cannot be kept beside a search. */
const MOST_BYTES = 1e6

/**
 * Makes a page that complains smaller and smaller, by cutting out of its document what is not needed for that, in the measuring browser
 * alone: nobody else gets any of it. What was tried before a kill stays.
 */
export async function readSmaller(
  tools: OnDemandTools,
  { id, pageId, wish, taken }: OnDemand<'smaller'>,
): Promise<void> {
  const { site, key, keep, secret } = tools
  const [search, page] = await Promise.all([CauseSearchRow.findByPk(wish.causeId), PageRow.findByPk(pageId!)])
  const lens = await LensRow.findByPk(search!.lensId, { paranoid: false })
  const complaint: Complaint = { kind: search!.kind as Complaint['kind'], text: search!.text }
  const url = siteAddress(site.address, page!.path)
  const cookie = await signIn(site.address, lens!.settings, secret, reachOf(site))
  const read = async (document: string | null) => {
    const seen: { look: GuardLook | null; document: string } = { look: null, document: '' }
    const order: ReadingOrder = {
      url: url.href,
      ownHosts: site.ownHosts,
      lens: lens!.settings,
      reach: reachOf(site),
      cookie,
      untimed: true,
      onLook: (look) => void (seen.look = look),
      rewrite: () => null,
      onDocument: (html) => void (seen.document = html),
      ...(document !== null && { document }),
      ...(key && {
        measuringHeader: () => measuringHeader(url, key, { rules: 'live', cache: 'bypass' }, Date.now() / 1000),
      }),
    }
    await readInLivingBrowser(tools, order, false)
    return { complains: seen.look !== null && complainsOf(seen.look, complaint), document: seen.document }
  }

  let { source } = taken
  const tries = [...taken.tries]
  if (source === null) {
    const whole = await read(null)
    if (!whole.complains) throw new ReadingFailure('The page does not complain of it any more, or not each time.')
    if (whole.document.length > MOST_BYTES || whole.document.includes('\0'))
      throw new ReadingFailure('Its document is too large to be gone through part by part.')
    source = whole.document
  }
  const parts = partsOf(source)
  const told = (kept: readonly number[]) => ({
    source,
    tries,
    parts: parts.length,
    left: kept.length,
    html: sourceOf(source, parts, kept),
  })
  for (;;) {
    const next = smallerPage(parts, tries)
    if ('found' in next || tries.length >= MOST_TRIES) {
      await keep(told('found' in next ? next.found : smallestSoFar(parts, tries)))
      return
    }
    const { complains } = await read(sourceOf(source, parts, next.ask))
    tries.push({ kept: next.ask, fails: complains })
    await keep(told(smallestSoFar(parts, tries)))
    // Somebody may have had enough of it meanwhile.
    if ((await OnDemandRow.findByPk(id, { attributes: ['state'] }))?.state === 'done') return
  }
}
