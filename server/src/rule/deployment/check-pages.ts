import pMap from 'p-map'
import { LensRow } from '../../lens/lens.model.js'
import type { PageRow } from '../../page/page.model.js'
import { reachOf } from '../../reach/reach.js'
import { measuringHeader, MEASURING_HEADER } from '../../site-http/measuring-header.js'
import { siteAddress } from '../../site-http/site-address.js'
import { siteFetch } from '../../site-http/site-fetch.js'
import { signIn } from '../../site-http/sign-in.js'
import type { SiteRow } from '../../site/site.model.js'
import type { CheckedPage } from './deployment-plan.js'

const AT_A_TIME = 4
const RULES_HEADER = 'unvelt-rules'
const GATEWAY_TIMEOUT = 504

interface Asking {
  site: SiteRow
  key: string
  secret: Buffer
}

/** Somebody who may look: nobody in particular, or whoever a lens signs in. */
type Looker = () => Promise<string | null>

/**
 * Asks for pages as those who see them would, past no cache, and looks which rules each was made by. A page that only people
 * who have signed in see is asked for as somebody whom a lens signs in.
 */
export async function checkPages(
  { site, key, secret }: Asking,
  pages: readonly PageRow[],
  { version, before }: { version: number; before: number },
): Promise<CheckedPage[]> {
  const members = await lookersOf(site, secret)
  const ask = (page: PageRow, rules: 'live' | number, cookie: string | null) => askFor(site, key, page, rules, cookie)
  const judge = async (page: PageRow, cookie: string | null): Promise<CheckedPage> => {
    const { path } = page
    const { status, rules } = await ask(page, 'live', cookie)
    if (rules === String(version) && status < 400) return { path, outcome: 'new' }
    if (status >= 500) {
      // What was broken before is not broken by this.
      const { status: was } = await ask(page, before, cookie)
      return was >= 500 ? { path, outcome: 'unseen', why: 'fail without the change, too' } : { path, outcome: 'broken' }
    }
    if (status >= 300 && status < 400) return { path, outcome: 'unseen', why: 'lead elsewhere' }
    if (status === 404 || status === 410) return { path, outcome: 'unseen', why: 'are gone from the site' }
    if (status >= 400) return { path, outcome: 'unseen', why: 'are closed to visitors' }
    return { path, outcome: 'old' }
  }
  return pMap(
    pages,
    async (page) => {
      if (!page.signedIn && page.area === 'public') {
        const checked = await judge(page, null)
        if (checked.outcome !== 'unseen' || members.length === 0) return checked
      }
      for (const looker of members) {
        const cookie = await looker()
        const checked = cookie === null ? null : await judge(page, cookie)
        if (checked && checked.outcome !== 'unseen') return checked
      }
      return page.signedIn || page.area === 'office'
        ? { path: page.path, outcome: 'unseen', why: 'are seen by people who sign in, and no lens may' }
        : judge(page, null)
    },
    { concurrency: AT_A_TIME },
  )
}

/** One for each lens that signs somebody in; each signs in once, when the first page wants it. */
async function lookersOf(site: SiteRow, secret: Buffer): Promise<Looker[]> {
  const lenses = await LensRow.findAll({ where: { siteId: site.id }, order: ['id'] })
  return lenses
    .filter(({ settings }) => settings.visitor.kind !== 'signed-out')
    .map(({ settings }): Looker => {
      let cookie: Promise<string | null> | null = null
      return () => (cookie ??= signIn(site.address, settings, secret, reachOf(site)).catch(() => null))
    })
}

async function askFor(
  site: SiteRow,
  key: string,
  page: PageRow,
  rules: 'live' | number,
  cookie: string | null,
): Promise<{ status: number; rules: string | null }> {
  const url = siteAddress(site.address, page.path)
  const cache = rules === 'live' ? 'serve' : 'bypass'
  const header = measuringHeader(url, key, { rules, cache }, Date.now() / 1000)
  const response = await siteFetch(url, {
    reach: reachOf(site),
    headers: { [MEASURING_HEADER]: header, ...(cookie !== null && { cookie }) },
  }).catch((error: unknown) => {
    // One page that takes for ever is that page's matter; a site that is away is everybody's.
    if ((error as Error).name === 'TimeoutError') return null
    throw error
  })
  if (!response) return { status: GATEWAY_TIMEOUT, rules: null }
  await response.body?.cancel()
  return { status: response.status, rules: response.headers.get(RULES_HEADER) }
}
