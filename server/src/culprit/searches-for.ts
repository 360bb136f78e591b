import type { Sequelize } from 'sequelize'
import { failsForSame, type GuardResult } from '@unvelt/core'
import { LensRow } from '../lens/lens.model.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { acceptanceOf } from '../rehearsal/rehearsal-view.js'
import { draftsKey } from '../rehearsal/rehearsal-plan.js'
import { AcceptedRow, RehearsalPageRow, type RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { sureOn } from './ask-page.js'
import { CulpritSearchRow } from './culprit.model.js'
import { suspectsOn } from './suspects.js'

/** So many different things are looked into in one round; what is left shows in the next. */
const MOST_AT_ONCE = 6

/**
 * Begins to look for what breaks the guards of a rehearsal: for each thing that fails once, wherever it fails, and of each page for
 * one thing only, since what breaks on a page mostly breaks together. Beginning twice is beginning once.
 */
export async function searchesFor(sequelize: Sequelize, rehearsal: RehearsalRow): Promise<void> {
  if ((await CulpritSearchRow.count({ where: { rehearsalId: rehearsal.id } })) > 0) return
  for (const { page, lens, guard } of (await thingsToFind(rehearsal)).slice(0, MOST_AT_ONCE))
    await beginSearch(sequelize, rehearsal, { page, lens, guard }, true)
}

export interface Failing {
  page: PageRow
  lens: LensRow
  guard: GuardResult
}

export async function beginSearch(
  sequelize: Sequelize,
  rehearsal: RehearsalRow,
  { page, lens, guard: { guard, gone, came, size } }: Failing,
  goesOn: boolean,
): Promise<CulpritSearchRow> {
  const found = { guard, gone, came, ...(size !== undefined && { size }) }
  const view = await RehearsalPageRow.findOne({
    where: { rehearsalId: rehearsal.id, pageId: page.id, lensId: lens.id },
  })
  return CulpritSearchRow.create({
    rehearsalId: rehearsal.id,
    pageId: page.id,
    lensId: lens.id,
    guard,
    found,
    suspects: await suspectsOn(sequelize, rehearsal, page, lens, found),
    goesOn,
    sure: sureOn(view!),
  })
}

/** What fails and nobody has accepted: each thing once, and of each view one. */
export async function thingsToFind(rehearsal: RehearsalRow): Promise<Failing[]> {
  const [views, accepted, pages, lenses] = await Promise.all([
    RehearsalPageRow.findAll({ where: { rehearsalId: rehearsal.id, state: 'done' }, order: ['position', 'lensId'] }),
    AcceptedRow.findAll({ where: { siteId: rehearsal.siteId } }),
    PageRow.findAll({ where: { siteId: rehearsal.siteId } }),
    LensRow.findAll({ where: { siteId: rehearsal.siteId } }),
  ])
  const things: Failing[] = []
  for (const view of views) {
    const page = pages.find(({ id }) => id === view.pageId)!
    const key = draftsKey(rehearsal.drafts, rulePage(page))
    const fails = view.guards.filter((guard) => guard.outcome === 'fails' && !acceptanceOf(guard, view, key, accepted))
    // What is told in words says more than that a picture or the layout is another one.
    const guard = fails.find(({ size }) => size === undefined) ?? fails[0]
    if (guard && !things.some((other) => failsForSame([guard], other.guard)))
      things.push({ page, lens: lenses.find(({ id }) => id === view.lensId)!, guard })
  }
  return things
}
