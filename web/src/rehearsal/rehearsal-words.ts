import type { Rehearsal } from '@unvelt/contract'
import { plural } from '../figures/format.js'

/** How a rehearsal stands, as a short sentence. */
export function rehearsalWords(rehearsal: Rehearsal): string {
  const { state, pages, pagesDone, failing, accepted, unread, failure } = rehearsal
  if (state === 'running') return `${pagesDone} of ${plural(pages, 'view')} rehearsed`
  if (state === 'failed') return failure ?? 'It could not be carried to its end.'
  const parts = [
    state === 'stopped' ? `stopped after ${pagesDone} of ${plural(pages, 'view')}` : '',
    failing > 0 ? `${plural(failing, 'guard')} ${failing === 1 ? 'fails' : 'fail'}` : '',
    unread > 0 ? `${plural(unread, 'view')} could not be read` : '',
    accepted > 0 ? `${plural(accepted, 'difference')} accepted` : '',
  ].filter(Boolean)
  return parts.length > 0 ? parts.join(', ') : 'all guards hold'
}

export const isBad = ({ state, failing, unread }: Rehearsal): boolean =>
  state === 'failed' || (state !== 'running' && failing + unread > 0)

/** Those of retirements are nobody's drafts, and those that play the guards of a change are of what is live. */
export const isOfDrafts = ({ retirementId, deploymentId }: Rehearsal): boolean =>
  retirementId === null && deploymentId === null
