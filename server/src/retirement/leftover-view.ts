import { leftoverSureness } from '@unvelt/core'
import type { LeftoversAnswer, LeftoverView } from '@unvelt/contract'

type Told = LeftoversAnswer['leftovers'][number] | LeftoverView

/**
 * A leftover as the site tells of it, or as it was written down at a time when less was told.
 * @param goneSince When its owner was switched off or removed, where that is known.
 */
export function leftoverView(one: Told, goneSince: Date | null): LeftoverView {
  const lastWritten = one.lastWritten ?? null
  const lastRead = one.lastRead ?? null
  return {
    ...one,
    rows: one.rows ?? null,
    path: one.path ?? null,
    because: one.because ?? [],
    lastWritten,
    lastRead,
    sureness: leftoverSureness(
      { lastWritten: lastWritten ? new Date(lastWritten) : null, lastRead: lastRead ? new Date(lastRead) : null },
      new Date(),
      goneSince,
    ),
  }
}
