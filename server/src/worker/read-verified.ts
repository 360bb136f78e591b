import { isCarriedOut, leftToDo, resolve, withFoundPayers, type PageAsItCame, type ResolvedEffect } from '@unvelt/core'
import type { VerifiedEffect } from '@unvelt/contract'
import type { ReadingOrder } from '../browser/reading-order.js'
import { LensRow, visitOf } from '../lens/lens.model.js'
import type { OnDemand, VerifiedView } from '../on-demand/on-demand.model.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { patternsOf } from '../pattern/pattern.model.js'
import { reachOf } from '../reach/reach.js'
import { ReadingFailure } from '../reading/failure.js'
import { signIn } from '../site-http/sign-in.js'
import { siteAddress } from '../site-http/site-address.js'
import { attributionSources, evidentAddOns } from '../sweep/sources.js'
import { readInLivingBrowser } from './read-in-living-browser.js'
import type { OnDemandTools } from './read-on-demand.js'

/** Reads a page as visitors get it, and looks what is left to do of rules that somebody else is to carry out. */
export async function readVerified(tools: OnDemandTools, { pageId, wish, taken }: OnDemand<'verify'>): Promise<void> {
  const { site, keep, turns, secret } = tools
  const page = (await PageRow.findByPk(pageId!))!
  const [addOns, patterns] = await Promise.all([evidentAddOns(site.id), patternsOf(site.id)])
  const sources = withFoundPayers(
    attributionSources(site, addOns, patterns),
    wish.rules.map(({ addon }) => addon),
  )
  const views: VerifiedView[] = [...taken]
  for (const lensId of wish.lensIds.slice(views.length)) {
    const lens = (await LensRow.findByPk(lensId, { paranoid: false }))!
    const seen = { document: null as Pick<PageAsItCame, 'html' | 'url'> | null }
    const order: ReadingOrder = {
      url: siteAddress(site.address, page.path).href,
      ownHosts: site.ownHosts,
      lens: lens.settings,
      reach: reachOf(site),
      cookie: await turns.beside(() => signIn(site.address, lens.settings, secret, reachOf(site))),
      clean: true,
      untimed: true,
      rewrite: () => null,
      onDocument: (html, url) => void (seen.document = { html, url }),
    }
    const { requests } = await readInLivingBrowser(tools, order, false)
    if (!seen.document) throw new ReadingFailure('The page came as nothing that could be looked through.')
    const came: PageAsItCame = {
      ...seen.document,
      asked: requests.flatMap(({ url, type, failure }) => (type === 'document' || failure !== undefined ? [] : url)),
    }
    const said = (removed: boolean) =>
      resolve(
        wish.rules.filter((rule) => (rule.removed === true) === removed),
        rulePage(page),
        visitOf(lens),
      ).filter(({ effect }) => effect !== 'keep')
    const standing = said(false)
    const of = (effect: ResolvedEffect) => ({ effect, left: leftToDo(effect, standing, came, sources) })
    views.push({
      lensId,
      effects: [
        ...standing.map(of).map(({ effect, left }): VerifiedEffect => {
          if (!left) return { rules: effect.rules, outcome: 'unknown', inPage: [], arrived: [] }
          return { rules: effect.rules, outcome: isCarriedOut(left) ? 'done' : 'left', ...left }
        }),
        // Of what is to be there again there is something to do anew.
        ...said(true)
          .map(of)
          .map(({ effect, left }): VerifiedEffect => {
            const isBack = left && !isCarriedOut(left)
            return {
              rules: effect.rules,
              outcome: left ? (isBack ? 'done' : 'left') : 'unknown',
              inPage: [],
              arrived: [],
            }
          }),
      ],
    })
    await keep(views)
  }
}
