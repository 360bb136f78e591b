import { NO_PAGES, perThousand } from '@unvelt/core'
import type { AddOn, RetirementSnapshot } from '@unvelt/contract'
import { PageRow } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'
import type { RetirementRow, WorkEntry } from './retirement.model.js'
import { whyUsed, type Known } from './retirement-sheets.js'

/** A whole add-on that is there. */
export async function installed(
  site: SiteRow,
  { slug, name, version, tables }: AddOn,
  known: Known,
): Promise<Pick<RetirementRow, 'name' | 'version' | 'before' | 'tableNames'> & { worklist: WorkEntry[] }> {
  const pages = await PageRow.findAll({ where: { siteId: site.id, gone: false }, order: ['position'] })
  return {
    name,
    version,
    before: perThousand(known.cases.find((one) => one.slug === slug)?.pages ?? NO_PAGES),
    tableNames: tables.map((table) => table.name),
    worklist: pages
      .filter(({ id }) => ['used', 'planned'].includes(known.use.wordOf(slug, id)))
      .map(({ id }) => ({ pageId: id, because: whyUsed(known, slug, id), owner: '', due: null })),
  }
}

/** What it holds nobody can tell; whoever made it answers for it. */
export const copyByHand = (name: string): RetirementSnapshot => ({
  id: 0,
  name,
  madeAt: new Date().toISOString(),
  bytes: 0,
  rows: 0,
  tables: 0,
  sound: true,
})

/** @throws ProblemError for what is none of its features that are switched on. */
export function someFeatures({ name, version, features: all }: AddOn, features: string[]) {
  const unknown = features.filter((slug) => !all.some((feature) => feature.slug === slug && feature.on))
  if (unknown.length > 0)
    throw new ProblemError(422, `Not among its features that are switched on: ${unknown.join(', ')}.`)
  return {
    name: `${name}: ${features.length} features`,
    version,
    features: [...new Set(features)],
    before: perThousand(NO_PAGES),
    tableNames: [],
    worklist: [],
  }
}
