import { QueryTypes, type Sequelize } from 'sequelize'
import { attribute, whoBringsIn, type BringsIn, type LintFinding } from '@unvelt/core'
import type { AddOnRow } from '../add-on/add-on.model.js'
import { keptView } from '../kept/kept-view.js'
import { readingsOf } from '../reading/reading-store.js'
import type { SweepRow } from '../sweep/sweep.model.js'

const MOST_PAGES = 50
/** So many of the findings are looked into, on one page each: who brings in one rule's files brings in most rules'. */
const MOST_LOOKED_INTO = 20

/** Path → those of some add-ons of which something came in a sweep. */
export async function arrivedIn(
  sequelize: Sequelize,
  sweepId: number,
  slugs: readonly string[],
): Promise<Map<string, Set<string>>> {
  if (slugs.length === 0) return new Map()
  const rows = await sequelize.query<{ path: string; slug: string }>(
    `select path, payer slug from toll join page on page.id = page_id
     where sweep_id = $1 and variant = 'live' and payer = any($2) and requests > 0 order by page.position`,
    { bind: [sweepId, [...new Set(slugs)]], type: QueryTypes.SELECT },
  )
  const found = new Map<string, Set<string>>()
  for (const { path, slug } of rows) found.set(path, (found.get(path) ?? new Set()).add(slug))
  return found
}

/** Add-ons that the site had switched off when it was read, and has so now. */
export function switchedOff<A extends Pick<AddOnRow, 'slug' | 'active' | 'gone' | 'source'>>(
  { inventory }: Pick<SweepRow, 'inventory'>,
  addOns: readonly A[],
): A[] {
  const wasOff = new Set(inventory.filter(({ active }) => !active).map(({ slug }) => slug))
  return addOns.filter(
    ({ slug, active, gone, source }) => source === 'connector' && !active && !gone && wasOff.has(slug),
  )
}

/** Those that are switched off and of which files came all the same. */
export function offArrives(
  off: readonly Pick<AddOnRow, 'slug' | 'name'>[],
  arrived: ReadonlyMap<string, ReadonlySet<string>>,
): LintFinding[] {
  return off.flatMap(({ slug, name }): LintFinding[] => {
    const pages = [...arrived].filter(([, slugs]) => slugs.has(slug)).map(([path]) => path)
    if (pages.length === 0) return []
    const wayOut = { do: 'check' as const, addon: slug }
    return [
      {
        kind: 'off-arrives',
        rules: [],
        pages: pages.slice(0, MOST_PAGES),
        pageCount: pages.length,
        about: name,
        wayOut,
      },
    ]
  })
}

/** Who brings in what arrives all the same: by `path slug`, as the sweep's readings tell. Worked out once for each sweep. */
export async function waysIn(
  sequelize: Sequelize,
  sweep: SweepRow,
  findings: readonly LintFinding[],
): Promise<Map<LintFinding, BringsIn[]>> {
  const asked = findings
    .filter(({ wayOut, pages }) => wayOut.do === 'check' && pages.length > 0)
    .slice(0, MOST_LOOKED_INTO)
    .map((finding) => ({ finding, path: finding.pages[0]!, slug: (finding.wayOut as { addon: string }).addon }))
  if (asked.length === 0) return new Map()
  const keys = asked.map(({ path, slug }) => `${path} ${slug}`)
  const ways = await keptView(
    sequelize,
    sweep,
    'ways-in',
    async () => {
      const byPath = new Map<string, Set<string>>()
      for (const { path, slug } of asked) byPath.set(path, (byPath.get(path) ?? new Set()).add(slug))
      const found: Record<string, BringsIn[]> = {}
      for (const [path, slugs] of byPath)
        for (const [slug, list] of await waysOnPage(sequelize, sweep, path, slugs)) found[`${path} ${slug}`] = list
      return found
    },
    keys.sort().join('\n'),
  )
  return new Map(asked.map(({ finding, path, slug }) => [finding, ways[`${path} ${slug}`] ?? []]))
}

async function waysOnPage(
  sequelize: Sequelize,
  { id, siteId, sources }: SweepRow,
  path: string,
  slugs: ReadonlySet<string>,
): Promise<Map<string, BringsIn[]>> {
  const [page] = await sequelize.query<{ id: number }>('select id from page where site_id = $1 and path = $2', {
    bind: [siteId, path],
    type: QueryTypes.SELECT,
  })
  const [reading] = page ? await readingsOf(id, page.id, 'live') : []
  return reading ? whoBringsIn(reading, attribute(reading, sources), slugs) : new Map()
}
