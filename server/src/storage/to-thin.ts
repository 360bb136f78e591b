import type { SweepRow } from '../sweep/sweep.model.js'

type Kept = Pick<SweepRow, 'id' | 'lensId' | 'purpose' | 'status' | 'startedAt' | 'thinnedAt'>

/**
 * The sweeps of which only what they came to is to be kept: surveys behind the newest so many of their lens, and what was compared
 * before the oldest survey that stays. What is shown stays in full, and so does what is not over.
 * @param keepFull Null for all.
 */
export function toThin<S extends Kept>(
  sweeps: readonly S[],
  keepFull: number | null | undefined,
  shown: number | null,
): S[] {
  if (keepFull == null) return []
  const ended = sweeps
    .filter(({ status, thinnedAt }) => status !== 'running' && status !== 'paused' && !thinnedAt)
    .sort((a, b) => b.startedAt.getTime() - a.startedAt.getTime() || b.id - a.id)
  const surveys = ended.filter(({ purpose }) => purpose === 'survey' || purpose === 'import')
  const inFull = surveys.filter(
    (one, at) =>
      one.id === shown || surveys.slice(0, at).filter(({ lensId }) => lensId === one.lensId).length < keepFull,
  )
  const oldest = inFull.at(-1)
  if (!oldest) return []
  const compared = ended.filter(
    ({ purpose, startedAt }) => (purpose === 'proof' || purpose === 'shares') && startedAt < oldest.startedAt,
  )
  return [...surveys.filter((one) => !inFull.includes(one)), ...compared]
}
