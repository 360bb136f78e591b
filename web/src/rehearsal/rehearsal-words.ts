import type { Rehearsal } from '@unvelt/contract'
import { plural } from '../figures/format.js'

/** How a rehearsal stands, as a short sentence. */
export function rehearsalWords(rehearsal: Rehearsal): string {
  const { state, pages, pagesDone, failing, accepted, unread, failure } = rehearsal
  if (state === 'running')
    return `${pagesDone} of ${plural(pages, 'view')} ${rehearsal.mechanism === 'live' ? 'looked at' : 'rehearsed'}`
  if (state === 'failed') return failure ?? 'It could not be carried to its end.'
  const parts = [
    state === 'stopped' ? `stopped after ${pagesDone} of ${plural(pages, 'view')}` : '',
    failing > 0 ? `${plural(failing, 'guard')} ${failing === 1 ? 'fails' : 'fail'}` : '',
    unread > 0 ? `${plural(unread, 'view')} could not be read` : '',
    accepted > 0 ? `${plural(accepted, 'difference')} accepted` : '',
  ].filter(Boolean)
  return parts.length > 0 ? parts.join(', ') : 'all guards hold'
}

/** What it is of, as a heading and in lists. */
export function rehearsalTitle({ round, deploymentId, effectOf, what }: Rehearsal): string {
  if (round) return 'Guards on the live site'
  if (effectOf !== null) return what
  return `${deploymentId === null ? 'Rehearsal' : 'Guards once live'}: ${what}`
}

/** What the two sides are called. */
export interface Sides {
  without: string
  with: string
}

export function sidesOf({ round, deploymentId }: Rehearsal): Sides {
  if (round) return { without: 'before', with: 'now' }
  if (deploymentId !== null) return { without: 'under the rules before', with: 'as it is live' }
  return { without: 'without', with: 'with the drafts' }
}

export const isBad = ({ state, failing, unread }: Rehearsal): boolean =>
  state === 'failed' || (state !== 'running' && failing + unread > 0)

/** Those of retirements are nobody's drafts, and those that play guards on what is live are of no drafts at all. */
export const isOfDrafts = ({ retirementId, effectOf, deploymentId, round }: Rehearsal): boolean =>
  retirementId === null && effectOf === null && deploymentId === null && !round
