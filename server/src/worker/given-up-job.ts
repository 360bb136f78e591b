import { ActionRow } from '../action/action.model.js'
import { ServerReadingRow } from '../server-reading/server-reading.model.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { WithoutRow } from '../without/without.model.js'

const WHY = 'It was begun several times, and no worker could end it.'

/** A reading that no worker could end is over, with its reason, so that it can be asked for again. */
export async function giveUpReading(kind: 'server' | 'without' | 'actions', id: number): Promise<void> {
  const change = { state: 'done' as const, failure: WHY, takenAt: new Date() }
  const where = { id, state: 'waiting' as const }
  if (kind === 'server') await ServerReadingRow.update(change, { where })
  else if (kind === 'actions') await ActionRow.update(change, { where })
  else await WithoutRow.update(change, { where })
}

/** A sweep that could not be worked out anew is shown as it is. */
export async function giveUpRecomputing(sweepId: number): Promise<void> {
  await SweepRow.update({ recomputing: false }, { where: { id: sweepId } })
}
