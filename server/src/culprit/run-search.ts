import { failsForSame, withAnswer } from '@unvelt/core'
import { tellRehearsal } from '../events/tell.js'
import type { Hold } from '../queue/job.js'
import type { FindCulpritJob } from '../queue/queue.js'
import { RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { askPage } from './ask-page.js'
import { nextQuestion } from './culprit-view.js'
import { CulpritSearchRow } from './culprit.model.js'

/** A search that asks more than this would take longer than going through the drafts by hand. */
const MOST_TRIES = 200

interface Parts {
  tools: WorkerTools
  search: CulpritSearchRow
  rehearsal: RehearsalRow
  view: RehearsalPageRow
}

/**
 * Asks one set of drafts after the other whether it breaks the guard, until the fewest are known that do. What the page is without
 * drafts is known from the rehearsal. @returns false where it was stopped before its end.
 */
export async function runSearch(tools: WorkerTools, { id }: FindCulpritJob, hold: Hold): Promise<boolean> {
  const search = await CulpritSearchRow.findByPk(id)
  if (search?.state !== 'running') return false
  const [rehearsal, view] = await Promise.all([
    RehearsalRow.findByPk(search.rehearsalId),
    RehearsalPageRow.findOne({
      where: { rehearsalId: search.rehearsalId, pageId: search.pageId, lensId: search.lensId },
    }),
  ])
  const parts = { tools, search, rehearsal: rehearsal!, view: view! }
  for (;;) {
    const next = nextQuestion(search)
    if ('found' in next) {
      hold.check()
      await search.update({ culprits: next.found })
      return true
    }
    if (search.tries.length >= MOST_TRIES) throw new Error(`No answer after ${MOST_TRIES} questions.`)
    await tell(parts)
    const chosen = new Set(next.ask)
    const { fails, readings } = await askPage(
      tools,
      parts,
      parts.rehearsal.drafts.filter(({ id }) => chosen.has(id)),
      (guards) => failsForSame(guards, search.found),
      { readings: next.readings },
    )
    hold.check()
    await search.reload()
    if (search.state !== 'running') return false
    await search.update({ tries: withAnswer(search.tries, { changes: next.ask, fails, readings }) })
    await hold.progressed()
  }
}

const tell = ({ tools, rehearsal }: Pick<Parts, 'tools' | 'rehearsal'>) =>
  tellRehearsal(tools.sequelize, { siteId: rehearsal.siteId, rehearsalId: rehearsal.id })
