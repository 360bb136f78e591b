import { samplePages, shareOf, type SamplePlan } from '@unvelt/core'
import type { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'

export interface PageChoice {
  pageIds?: number[]
  kinds?: string[]
  sample?: SamplePlan
}

export interface ChosenPages {
  /** All that can be seen through the lens. */
  all: PageRow[]
  pages: PageRow[]
  /** Of the known page views of all, those on the chosen ones, 0 to 1; null where none are known. */
  share: number | null
}

/** The pages that a sweep through a lens reads: of those it can see, the ones that were asked for. */
export async function choosePages(
  siteId: number,
  lens: LensRow,
  { pageIds, kinds, sample }: PageChoice,
): Promise<ChosenPages> {
  const signedOut = lens.settings.visitor.kind === 'signed-out'
  const all = await PageRow.findAll({
    // Pages for signed-in people would show others the sign-in form instead.
    where: { siteId, gone: false, ...(signedOut && { signedIn: false }) },
    order: ['position'],
  })
  const named = pageIds && new Set(pageIds)
  const wanted = all.filter(({ id, kind }) => (!named || named.has(id)) && (!kinds || kinds.includes(kind)))
  const drawn = sample && new Set(samplePages(wanted.map(sampled), sample).ids)
  const pages = drawn ? wanted.filter(({ id }) => drawn.has(id)) : wanted
  return { all, pages, share: shareOf(all.map(sampled), new Set(pages.map(({ id }) => id))) }
}

const sampled = ({ id, kind, views, importedViews }: PageRow) => ({ id, kind, views: importedViews ?? views })
