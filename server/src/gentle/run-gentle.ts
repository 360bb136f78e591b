import { fittingParticulars, withoutParticulars, type GuardResult, type Rule } from '@unvelt/core'
import { askPage } from '../culprit/ask-page.js'
import { tellRehearsal } from '../events/tell.js'
import { PageRow, rulePage } from '../page/page.model.js'
import type { Hold } from '../queue/job.js'
import type { FindGentlestJob } from '../queue/queue.js'
import { whatFails } from '../rehearsal/guard-words.js'
import { draftsKey } from '../rehearsal/rehearsal-plan.js'
import { acceptanceOf } from '../rehearsal/rehearsal-view.js'
import { AcceptedRow, RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { GentleSearchRow } from './gentle.model.js'
import { loaded } from './loaded.js'

/**
 * Tries one effect after the other in the place of the draft's, on the page that it broke, until all guards hold there. It goes on
 * behind what was tried when it is killed.
 */
export async function runGentle(tools: WorkerTools, { id }: FindGentlestJob, hold: Hold): Promise<void> {
  const search = await GentleSearchRow.findByPk(id)
  if (search?.state !== 'running') return
  const { rehearsalId, pageId, lensId } = search
  const [rehearsal, view, page] = await Promise.all([
    RehearsalRow.findByPk(rehearsalId),
    RehearsalPageRow.findOne({ where: { rehearsalId, pageId, lensId } }),
    PageRow.findByPk(pageId),
  ])
  const accepted = await AcceptedRow.findAll({ where: { siteId: search.siteId } })
  const key = draftsKey(search.drafts, rulePage(page!))
  const failing = (guards: GuardResult[]) =>
    guards.find((guard) => guard.outcome === 'fails' && !acceptanceOf(guard, view!, key, accepted))
  while (search.tries.length < search.effects.length && search.tries.at(-1)?.fails !== false) {
    const next = search.effects[search.tries.length]!
    const drafts = search.drafts.map((rule) => (rule.id === search.draftId ? withEffect(rule, next) : rule))
    const answer = await askPage(tools, { rehearsal: rehearsal!, view: view! }, drafts, (guards) => !!failing(guards))
    hold.check()
    await search.reload()
    if (search.state !== 'running') return
    const broken = failing(answer.guards)
    await search.update({
      tries: [
        ...search.tries,
        {
          ...next,
          fails: answer.fails,
          why: broken ? whatFails(broken).slice(0, 500) : null,
          readings: answer.readings,
          figures: loaded(answer.figures),
        },
      ],
    })
    await hold.progressed()
    await tellRehearsal(tools.sequelize, { siteId: search.siteId, rehearsalId })
  }
  await endGentle(tools, id, 'done', null)
}

/** The same rule with another effect, and nothing of the one before. */
export const withEffect = (rule: Rule, change: GentleSearchRow['effects'][number]): Rule => ({
  ...withoutParticulars(rule),
  ...fittingParticulars(rule, change),
})

export async function endGentle(
  { sequelize }: Pick<WorkerTools, 'sequelize'>,
  id: number,
  state: 'done' | 'stopped' | 'failed',
  failure: string | null,
): Promise<void> {
  const search = await GentleSearchRow.findByPk(id)
  if (search?.state !== 'running') return
  await search.update({ state, finishedAt: new Date(), ...(failure !== null && { failure }) })
  await tellRehearsal(sequelize, { siteId: search.siteId, rehearsalId: search.rehearsalId })
}
