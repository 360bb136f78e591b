import type { Sequelize } from 'sequelize'
import { onFirstPages, type Rule } from '@unvelt/core'
import { PageRow, rulePage } from '../../page/page.model.js'
import { ProblemError } from '../../problem/problem.error.js'
import type { SiteRow } from '../../site/site.model.js'
import { changedAddOns, touchedPages } from './deployment-plan.js'
import type { Parts } from './deployment.model.js'
import { viewsToPlay } from './net.js'
import { pagesInUse } from './pages-in-use.js'

/**
 * What goes live first where a change goes in parts: the pages on which its guards are played, one of each touched kind. Where these
 * are all it touches, or nobody can play a guard there, there is nothing to learn from going in parts.
 */
export async function firstPart(
  sequelize: Sequelize,
  site: SiteRow,
  { from, to, unrehearsed }: { from: Rule[]; to: Rule[]; unrehearsed: string | undefined },
): Promise<Parts> {
  if (!site.connector?.measuring?.olderRules)
    throw expected('The site makes no page under its rules before, so no guard could say whether the first part holds.')
  const pages = await PageRow.findAll({ where: { siteId: site.id, gone: false }, order: ['position'] })
  const touched = touchedPages(
    pages.map((page) => ({ ...rulePage(page), id: page.id })),
    from,
    to,
  )
  const ids = new Set(touched.map(({ id }) => id))
  const rows = pages.filter(({ id }) => ids.has(id))
  const inUse = await pagesInUse(sequelize, site.id, [...changedAddOns(from, to)])
  const options = { readAgain: 'none' as const, ...(unrehearsed !== undefined && { unrehearsed }) }
  const change = { siteId: site.id, options, fromRules: from, toRules: to }
  const first = new Set((await viewsToPlay(change, site, rows, inUse)).map(({ pageId }) => pageId))
  if (first.size === 0)
    throw expected('No lens sees what the drafts touch, so no guard could say whether the first part holds.')
  if (first.size === rows.length)
    throw expected(
      first.size === 1
        ? 'The drafts touch one page only.'
        : `The drafts touch ${rows.length} pages only, each of another kind.`,
    )
  const goFirst = rows.filter(({ id }) => first.has(id))
  return { at: 'first', pageIds: [...first], rules: onFirstPages(from, to, goFirst.map(rulePage)), version: null }
}

export const partsWords = (pages: number) =>
  `In parts: first on ${pages === 1 ? 'one page' : `${pages} pages, one of each kind`}, and on the rest if all guards hold there.`

const expected = (why: string) =>
  new ProblemError(422, `${why} Put them live at once. Nothing was put live.`, [{ field: 'inParts', message: why }])
