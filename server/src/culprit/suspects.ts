import { QueryTypes, type Sequelize } from 'sequelize'
import { bySuspicion, conditionHolds, payerAt, placeCovers, type GuardResult, type Suspicion } from '@unvelt/core'
import { AddOnRow } from '../add-on/add-on.model.js'
import { visitOf, type LensRow } from '../lens/lens.model.js'
import { rulePage, type PageRow } from '../page/page.model.js'
import { patternsOf } from '../pattern/pattern.model.js'
import type { RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { siteAddress } from '../site-http/site-address.js'
import { SiteRow } from '../site/site.model.js'
import { attributionSources, evidentAddOns } from '../sweep/sources.js'

/** The drafts that touch a page, those first that the evidence names. */
export async function suspectsOn(
  sequelize: Sequelize,
  { siteId, drafts }: Pick<RehearsalRow, 'siteId' | 'drafts'>,
  page: PageRow,
  lens: LensRow,
  found: Pick<GuardResult, 'gone' | 'came'>,
): Promise<Suspicion[]> {
  const site = (await SiteRow.findByPk(siteId))!
  const [addOns, evident, patterns, used, there] = await Promise.all([
    AddOnRow.findAll({ where: { siteId } }),
    evidentAddOns(siteId),
    patternsOf(siteId),
    slugs(sequelize, `select distinct slug from use_fact where page_id = :pageId and word = 'used'`, page.id),
    slugs(
      sequelize,
      `select distinct payer slug from toll where page_id = :pageId and variant = 'live' and sweep_id =
       (select max(sweep_id) from toll where page_id = :pageId and variant = 'live')`,
      page.id,
    ),
  ])
  const sources = attributionSources(site, evident, patterns)
  const at = siteAddress(site.address, page.path)
  const bySlug = new Map(addOns.map((row) => [row.slug, row]))
  const touching = drafts.filter(
    (rule) => placeCovers(rule.place, rulePage(page)) && conditionHolds(rule.condition, visitOf(lens)),
  )
  return bySuspicion(
    touching.map(({ id, addon, feature }) => ({
      id,
      addon,
      names: [addon, bySlug.get(addon)?.name ?? addon, ...(feature === undefined ? [] : [feature])],
      neededBy: addOns.filter(({ needs }) => needs.includes(addon)).map(({ slug }) => slug),
      isUsed: used.has(addon),
      isThere: there.has(addon),
    })),
    found,
    (address) => payerAt(address, at, sources),
  )
}

async function slugs(sequelize: Sequelize, query: string, pageId: number): Promise<Set<string>> {
  const rows = await sequelize.query<{ slug: string }>(query, { replacements: { pageId }, type: QueryTypes.SELECT })
  return new Set(rows.map(({ slug }) => slug))
}
