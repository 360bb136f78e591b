/** When something that seems to be nobody's was last touched, as far as that is known. */
export interface LeftoverTraces {
  lastWritten: Date | null
  lastRead: Date | null
}

export const LEFTOVER_SURENESS = ['sure', 'likely', 'look first'] as const
export type LeftoverSureness = (typeof LEFTOVER_SURENESS)[number]

const DAY_MS = 86_400_000
/** Touched within so many days, somebody is still at it, whatever the record says. */
const RECENT_DAYS = 30
/** Untouched for so long nobody comes back to it: every yearly job has had its turn. */
const LONG_DAYS = 400

/**
 * How sure it is that something is nobody's any more. What was touched lately is to be looked at first; what was not for over a year,
 * by all that is known, is sure; of what nothing is known it is likely.
 * @param goneSince When its owner stopped working, where that is known: what was touched before then was the owner's own doing.
 */
export function leftoverSureness(
  { lastWritten, lastRead }: LeftoverTraces,
  now: Date,
  goneSince: Date | null,
): LeftoverSureness {
  const newest = Math.max(lastWritten?.getTime() ?? -Infinity, lastRead?.getTime() ?? -Infinity)
  if (newest === -Infinity) return 'likely'
  if (goneSince) return newest > goneSince.getTime() ? 'look first' : 'sure'
  const days = (now.getTime() - newest) / DAY_MS
  return days <= RECENT_DAYS ? 'look first' : days >= LONG_DAYS ? 'sure' : 'likely'
}
