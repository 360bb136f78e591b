import type PgBoss from 'pg-boss'
import { tellRehearsal } from '../events/tell.js'
import { ProblemError } from '../problem/problem.error.js'
import { whatFails } from '../rehearsal/guard-words.js'
import { RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { RehearsalService } from '../rehearsal/rehearsal.service.js'
import { DraftService } from '../rule/draft.service.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import { PredictionService } from '../rule/prediction.service.js'
import { ruleViews } from '../rule/rule-view.js'
import { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { CulpritSearchRow } from './culprit.model.js'

export type CulpritTools = WorkerTools & { queue: PgBoss }

/** More rounds than this, and what is drafted is not the site's to bear. */
const MOST_ROUNDS = 8

/**
 * Sets aside what was found to break a guard, with the reason; and, once all searches of a rehearsal are over, rehearses the rest.
 * Done twice it does nothing more.
 */
export async function goOn({ sequelize, queue }: CulpritTools, search: CulpritSearchRow): Promise<void> {
  const rehearsal = (await RehearsalRow.findByPk(search.rehearsalId))!
  const { siteId } = rehearsal
  const live = new LiveRulesService()
  const prediction = new PredictionService(sequelize, new SweepService(sequelize, queue), live)
  const drafts = new DraftService(sequelize, prediction, live)
  await drafts.setAside(siteId, search.culprits ?? [], await reasonOf(rehearsal, search))
  const open = await CulpritSearchRow.count({
    where: { rehearsalId: rehearsal.id, state: 'running', culprits: null },
  })
  // Where nothing was thrown out another round would find the same.
  const thrown = (await CulpritSearchRow.findAll({ where: { rehearsalId: rehearsal.id } })).flatMap(
    ({ culprits }) => culprits ?? [],
  )
  const round = (rehearsal.best?.round ?? 0) + 1
  const isNext = await RehearsalRow.count({ where: { siteId, 'best.after': rehearsal.id } as never })
  if (open > 0 || thrown.length === 0 || isNext > 0 || round > MOST_ROUNDS || (await drafts.rules(siteId)).length === 0)
    return
  const site = (await SiteRow.findByPk(siteId))!
  try {
    await new RehearsalService(sequelize, queue, drafts, live, prediction).start(
      site,
      {},
      { round, after: rehearsal.id },
    )
  } catch (error) {
    // Somebody has begun something else meanwhile; what was found stands, and can be rehearsed by hand.
    if (!(error instanceof ProblemError)) throw error
    await search.update({ failure: error.message })
  }
  await tellRehearsal(sequelize, { siteId, rehearsalId: rehearsal.id })
}

/** Why a draft is set aside, as it is told beside it. */
export async function reasonOf(
  { siteId, drafts }: Pick<RehearsalRow, 'siteId' | 'drafts'>,
  { culprits, found, guard }: Pick<CulpritSearchRow, 'culprits' | 'found' | 'guard'>,
): Promise<string> {
  const names = await ruleViews(
    siteId,
    drafts.filter(({ id }) => culprits?.includes(id)),
  )
  const together =
    names.length > 1 ? `Only together: ${[...new Set(names.map(({ addonName }) => addonName))].join(' and ')}. ` : ''
  return `${together}Breaks ${whatFails({ ...found, guard })}`.slice(0, 500)
}
