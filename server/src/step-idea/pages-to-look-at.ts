import { QueryTypes, type Sequelize } from 'sequelize'
import type { IdeaPage } from '../on-demand/on-demand.model.js'
import { PageRow } from '../page/page.model.js'

/** So many kinds of pages are looked at, those that most people see first. */
const MOST_KINDS = 12
/** And so many pages more for add-ons that are in use on none of those. */
const MOST_FOR_ADD_ONS = 8

interface Candidate {
  id: number
  kind: string
  views: number
}

/**
 * Of each kind the page that most people see, and for each add-on that is in use on none of these the one that most people see of
 * those where it is.
 * @param used The add-ons and the pages where they were seen in use.
 */
export function chosenForIdeas<P extends Candidate>(
  pages: readonly P[],
  used: readonly { slug: string; pageId: number }[],
): P[] {
  const byViews = [...pages].sort((a, b) => b.views - a.views)
  const ofKind = new Map<string, P>()
  for (const page of byViews) if (!ofKind.has(page.kind)) ofKind.set(page.kind, page)
  const chosen = [...ofKind.values()].slice(0, MOST_KINDS)
  const on = new Map<string, Set<number>>()
  for (const { slug, pageId } of used) on.set(slug, (on.get(slug) ?? new Set()).add(pageId))
  const most = chosen.length + MOST_FOR_ADD_ONS
  for (const where of on.values()) {
    if (chosen.length >= most) break
    if (chosen.some(({ id }) => where.has(id))) continue
    const page = byViews.find(({ id }) => where.has(id))
    if (page) chosen.push(page)
  }
  return chosen
}

/** The pages that are looked at for steps, at a desk and on a handset. */
export async function pagesToLookAt(sequelize: Sequelize, siteId: number): Promise<IdeaPage[]> {
  const rows = await PageRow.findAll({
    where: { siteId, gone: false, area: 'public', signedIn: false },
    order: ['position'],
    attributes: ['id', 'path', 'kind', 'views', 'importedViews'],
  })
  const used = await sequelize.query<{ slug: string; pageId: number }>(
    `select distinct slug, page_id "pageId" from use_fact
     where site_id = $1 and page_id is not null and word = 'used' order by slug, page_id`,
    { bind: [siteId], type: QueryTypes.SELECT },
  )
  const pages = rows.map(({ id, path, kind, views, importedViews }) => ({
    id,
    path,
    kind,
    views: importedViews ?? views ?? 0,
  }))
  return chosenForIdeas(pages, used).flatMap(({ path, kind }) =>
    (['desk', 'handset'] as const).map((device) => ({ path, kind, device })),
  )
}
