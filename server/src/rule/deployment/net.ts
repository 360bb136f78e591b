import type PgBoss from 'pg-boss'
import type { Sequelize } from 'sequelize'
import { AddOnRow } from '../../add-on/add-on.model.js'
import { thingsToFind } from '../../culprit/searches-for.js'
import { tellRehearsal } from '../../events/tell.js'
import { LensRow, visitOf } from '../../lens/lens.model.js'
import { rulePage, type PageRow } from '../../page/page.model.js'
import { REHEARSE, within, type RehearseJob } from '../../queue/queue.js'
import { whatFails } from '../../rehearsal/guard-words.js'
import { lensesFor } from '../../rehearsal/rehearsal-plan.js'
import { OF_DRAFTS, RehearsalPageRow, RehearsalRow } from '../../rehearsal/rehearsal.model.js'
import type { SiteRow } from '../../site/site.model.js'
import type { DeploymentRow } from './deployment.model.js'

/** So many pages are looked at again: the change has been rehearsed on more, and visitors wait for the answer. */
const MOST_PAGES = 8

interface Tools {
  sequelize: Sequelize
  queue: PgBoss
}

/**
 * Begins to play the guards of a change that is live: one page of each touched kind, seen through the rules before and as visitors see
 * it now. @returns null where no lens sees any of the touched pages.
 */
export async function startNet(
  { sequelize, queue }: Tools,
  row: DeploymentRow,
  site: SiteRow,
  touched: readonly PageRow[],
  inUse: ReadonlySet<number>,
): Promise<RehearsalRow | null> {
  const views = await viewsToPlay(row, site, touched, inUse)
  if (views.length === 0) return null
  const addOns = await AddOnRow.findAll({ where: { siteId: site.id, slug: row.drafts.map(({ addon }) => addon) } })
  const started = await sequelize.transaction(async (transaction) => {
    // What is rehearsed against rules that are not live any more says nothing.
    await RehearsalRow.update(
      { state: 'stopped', failure: 'The live rules have changed meanwhile.', finishedAt: new Date() },
      { where: { siteId: site.id, state: 'running' }, transaction },
    )
    const net = await RehearsalRow.create(
      {
        siteId: site.id,
        deploymentId: row.id,
        what: row.what,
        mode: 'guards',
        liveVersion: row.fromVersion,
        liveRules: row.fromRules,
        drafts: row.drafts,
        versions: Object.fromEntries(addOns.map(({ slug, version }) => [slug, version ?? ''])),
        prediction: {},
        mechanism: 'live',
      },
      { transaction },
    )
    await RehearsalPageRow.bulkCreate(
      views.map((view, position) => ({ ...view, rehearsalId: net.id, position })),
      { transaction },
    )
    await row.update({ netId: net.id }, { transaction })
    const job: RehearseJob = { id: net.id }
    await queue.send(REHEARSE, job, { singletonKey: String(net.id), ...within(transaction) })
    return net
  })
  await tellRehearsal(sequelize, { siteId: site.id, rehearsalId: started.id })
  return started
}

/** Of each touched kind one page, through each lens that a change of its rules is about. */
export async function viewsToPlay(
  row: Pick<DeploymentRow, 'siteId' | 'options' | 'fromRules' | 'toRules'>,
  site: SiteRow,
  touched: readonly PageRow[],
  inUse: ReadonlySet<number>,
): Promise<{ pageId: number; lensId: number }[]> {
  const rehearsed = await viewsThatPassed(row)
  const lenses = (await LensRow.findAll({ where: { siteId: site.id }, order: ['id'] })).map((lens) => ({
    id: lens.id,
    visit: visitOf(lens),
    isCold: lens.settings.cache === 'cold',
  }))
  return pagesToPlay(touched, inUse, rehearsed).flatMap((page) =>
    lensesFor({ ...rulePage(page), signedIn: page.signedIn }, row.fromRules, row.toRules, lenses)
      .filter(({ id }) => rehearsed === null || rehearsed.has(`${page.id} ${id}`))
      .map(({ id }) => ({ pageId: page.id, lensId: id })),
  )
}

/** What the rehearsal has seen hold, or somebody has accepted, is what a failure is held against; null without one that passed. */
async function viewsThatPassed({
  siteId,
  options,
}: Pick<DeploymentRow, 'siteId' | 'options'>): Promise<Set<string> | null> {
  if (options.unrehearsed !== undefined) return null
  const rehearsal = await RehearsalRow.findOne({
    where: { siteId, state: 'done', ...OF_DRAFTS },
    order: [['id', 'desc']],
  })
  if (!rehearsal) return null
  const views = await RehearsalPageRow.findAll({
    where: { rehearsalId: rehearsal.id },
    attributes: ['pageId', 'lensId'],
  })
  return new Set(views.map(({ pageId, lensId }) => `${pageId} ${lensId}`))
}

/** Of each kind the page where what changes was seen in use, else the most visited. */
export function pagesToPlay<P extends Pick<PageRow, 'id' | 'kind' | 'views' | 'importedViews'>>(
  touched: readonly P[],
  inUse: ReadonlySet<number>,
  rehearsed: ReadonlySet<string> | null,
): P[] {
  const seen = rehearsed && new Set([...rehearsed].map((view) => Number(view.split(' ')[0])))
  const visits = ({ importedViews, views }: P) => importedViews ?? views ?? 0
  const best = new Map<string, P>()
  for (const page of touched) {
    if (seen && !seen.has(page.id)) continue
    const known = best.get(page.kind)
    const isBetter =
      !known || (inUse.has(page.id) !== inUse.has(known.id) ? inUse.has(page.id) : visits(page) > visits(known))
    if (isBetter) best.set(page.kind, page)
  }
  return [...best.values()].sort((a, b) => visits(b) - visits(a)).slice(0, MOST_PAGES)
}

export type NetResult =
  | { end: 'playing' }
  | { end: 'holds'; said: string }
  | { end: 'breaks'; said: string }
  | { end: 'unknown'; said: string }

/** What the guards have come to. */
export async function netResult(id: number): Promise<NetResult> {
  const net = await RehearsalRow.findByPk(id)
  if (net?.state === 'running') return { end: 'playing' }
  if (net?.state !== 'done')
    return { end: 'unknown', said: `Its guards were not played to their end. ${net?.failure ?? ''}`.trim() }
  const views = await RehearsalPageRow.findAll({ where: { rehearsalId: id }, attributes: ['state'] })
  const unread = views.filter(({ state }) => state === 'failed').length
  const failing = await thingsToFind(net)
  const [first] = failing
  if (first) {
    const more = failing.length - 1
    return {
      end: 'breaks',
      said: `Since it is live, guards fail on ${first.page.path}: ${whatFails(first.guard)}${more > 0 ? `; and ${more} more` : ''}.`,
    }
  }
  if (unread === views.length)
    return { end: 'unknown', said: 'None of the pages could be read, so no guard was played.' }
  const seen = views.length - unread
  return {
    end: 'holds',
    said: `Played on ${seen === 1 ? 'one view' : `${seen} views`} as visitors see ${seen === 1 ? 'it' : 'them'}, all guards hold.${unread > 0 ? ` ${unread} could not be read.` : ''}`,
  }
}
