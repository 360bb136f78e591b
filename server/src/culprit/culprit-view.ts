import { isLead, narrow } from '@unvelt/core'
import type { CulpritSearch } from '@unvelt/contract'
import type { CulpritSearchRow } from './culprit.model.js'

/** What the search asks next, by what it was answered so far. */
export const nextQuestion = ({ suspects, tries, sure }: Pick<CulpritSearchRow, 'suspects' | 'tries' | 'sure'>) =>
  narrow(
    suspects.map(({ id }) => id),
    tries,
    suspects.filter(isLead).length,
    sure,
  )

export function searchView(row: CulpritSearchRow, path: string): CulpritSearch {
  const next = row.state === 'running' && row.culprits === null ? nextQuestion(row) : null
  return {
    id: row.id,
    pageId: row.pageId,
    path,
    lensId: row.lensId,
    guard: row.guard,
    found: [...row.found.gone, ...row.found.came],
    state: row.state,
    failure: row.failure,
    suspects: row.suspects,
    tries: row.tries,
    asking: next && 'ask' in next ? next.ask : null,
    culprits: row.culprits,
    startedAt: row.startedAt.toISOString(),
    finishedAt: row.finishedAt?.toISOString() ?? null,
  }
}
