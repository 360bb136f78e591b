import { QueryTypes, type Sequelize } from 'sequelize'
import { CONTENT, viewsInThousand, type LatePage, type LateBecause } from '@unvelt/core'
import { AddOnRow } from '../add-on/add-on.model.js'
import { PageRow } from '../page/page.model.js'
import { deviceOf } from '../lens/device-of.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import type { SiteRow } from '../site/site.model.js'

/** Pages of a sweep whose largest picture is asked for late, where the site can ask for it first. */
export async function latePages(
  sequelize: Sequelize,
  site: SiteRow,
  { id: sweepId, lensId }: Pick<SweepRow, 'id' | 'lensId'>,
): Promise<LatePage[]> {
  if (site.connector && site.connector.firstFiles !== true) return []
  const rows = await sequelize.query<{ pageId: number; payer: string; file: string; because: LateBecause; ms: number }>(
    `select page_id "pageId", payer, file, because, (asked_ms - could_ms)::float8 ms from late_paint where sweep_id = $1`,
    { bind: [sweepId], type: QueryTypes.SELECT },
  )
  if (rows.length === 0) return []
  const device = await deviceOf(lensId)
  const pages = await PageRow.findAll({
    where: { siteId: site.id, area: 'public', signedIn: false, gone: false },
    raw: true,
  })
  const byId = new Map(pages.map((page) => [page.id, page]))
  const known = new Set(
    (await AddOnRow.findAll({ where: { siteId: site.id, source: 'connector' } })).map(({ slug }) => slug),
  )
  // A site with a connector obeys rules only on what it knows.
  const canBeSaid = (payer: string) => !site.connector || payer === CONTENT || known.has(payer)
  const viewsOf = (page: PageRow) => page.importedViews ?? page.views
  const visits = { views: pages.reduce((sum, page) => sum + (viewsOf(page) ?? 0), 0), pages: pages.length }
  return rows.flatMap(({ pageId, payer, file, because, ms }) => {
    const page = byId.get(pageId)
    if (!page || !canBeSaid(payer)) return []
    const inThousand = viewsInThousand({ views: viewsOf(page) }, visits)
    return [{ path: page.path, addon: payer, file, because, device, lateMs: ms, inThousand }]
  })
}
