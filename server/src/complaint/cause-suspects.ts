import { QueryTypes, type Sequelize } from 'sequelize'
import {
  attribute,
  bySuspicion,
  ruleFileName,
  hashOfInline,
  isOutsider,
  isOwnFolder,
  payerAt,
  type CauseLevel,
  type GuardResult,
  type Suspect,
  type Suspicion,
} from '@unvelt/core'
import { AddOnRow } from '../add-on/add-on.model.js'
import type { PageRow } from '../page/page.model.js'
import { middleReading } from '../rule/prediction.service.js'
import { siteAddress } from '../site-http/site-address.js'
import type { SiteRow } from '../site/site.model.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import type { ChangedAddOn } from '@unvelt/contract'

interface Where {
  site: SiteRow
  page: PageRow
  /** The newest survey that read the page. */
  sweep: SweepRow
  /** What is complained of, or what a guard found. */
  about: Pick<GuardResult, 'gone' | 'came'>
  changed: readonly ChangedAddOn[]
}

/** Whoever was found by folder, domain or code alone can be left out like an add-on. */
const isFound = (slug: string) => isOutsider(slug) || isOwnFolder(slug) || hashOfInline(slug) !== null

/** Whoever has a part in the page and can be left out of it, the likeliest first. */
export async function suspectAddOns(sequelize: Sequelize, where: Where): Promise<Suspicion[]> {
  const { site, page, sweep } = where
  const [addOns, payers, used] = await Promise.all([
    AddOnRow.findAll({ where: { siteId: site.id, gone: false, active: true } }),
    slugs(
      sequelize,
      'select payer slug from toll where sweep_id = :sweep and page_id = :page and variant = :live',
      where,
    ),
    slugs(sequelize, `select slug from use_fact where page_id = :page and word = 'used'`, where),
  ])
  const byName = new Map(addOns.map((row) => [row.slug, row]))
  const there = [...new Set([...payers].filter((slug) => byName.has(slug) || isFound(slug)))]
  const changed = new Set(where.changed.map(({ slug }) => slug))
  const suspects = there.map((slug): Suspect => ({
    id: slug,
    addon: slug,
    names: [slug, byName.get(slug)?.name ?? slug],
    neededBy: addOns.filter(({ needs }) => needs.includes(slug)).map((row) => row.slug),
    isUsed: used.has(slug),
    isThere: true,
    isChanged: changed.has(slug),
  }))
  return rank(suspects, where, sweep, page)
}

/** Features that are switched on, or files that came, of the one that is guilty. */
export async function suspectParts(
  level: Extract<CauseLevel, 'feature' | 'file'>,
  slug: string,
  where: Where,
): Promise<Suspicion[]> {
  const { site, page, sweep } = where
  const names =
    level === 'feature'
      ? ((await AddOnRow.findOne({ where: { siteId: site.id, slug } }))?.features ?? [])
          .filter(({ on }) => on)
          .map((feature) => ({ id: feature.slug, names: [feature.slug, feature.name] }))
      : (await filesOf(slug, where)).map((file) => ({ id: file, names: [file] }))
  const suspects = names.map((one): Suspect => ({ ...one, addon: slug, neededBy: [], isUsed: false, isThere: true }))
  return rank(suspects, where, sweep, page)
}

/** Names that rules call an add-on's scripts, styles and the like on the page by. */
async function filesOf(slug: string, { site, page, sweep }: Where): Promise<string[]> {
  const reading = await middleReading(sweep, page.id)
  if (!reading) return []
  const { requests } = attribute(reading, sweep.sources)
  const files = reading.requests.filter(
    ({ id, type, url }) => type !== 'document' && /^https?:/.test(url) && requests.get(id)?.payer === slug,
  )
  return [...new Set(files.map(({ url }) => ruleFileName(new URL(url), isOwn(site, url))))]
}

const isOwn = (site: SiteRow, url: string) => [new URL(site.address).host, ...site.ownHosts].includes(new URL(url).host)

function rank(suspects: readonly Suspect[], { site, about }: Where, sweep: SweepRow, page: PageRow): Suspicion[] {
  const at = siteAddress(site.address, page.path)
  return bySuspicion(suspects, about, (address) => payerAt(address, at, sweep.sources))
}

async function slugs(sequelize: Sequelize, query: string, { sweep, page }: Where): Promise<Set<string>> {
  const rows = await sequelize.query<{ slug: string }>(query, {
    replacements: { sweep: sweep.id, page: page.id, live: 'live' },
    type: QueryTypes.SELECT,
  })
  return new Set(rows.map(({ slug }) => slug))
}
