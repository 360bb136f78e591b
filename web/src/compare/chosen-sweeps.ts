import type { Sweep } from '@unvelt/contract'

/** Sweeps that can be set side by side: surveys that have read something, the newest first. */
export const surveysOf = (sweeps: readonly Sweep[]): Sweep[] =>
  sweeps.filter(({ purpose, readings, readingsFailed }) => purpose === 'survey' && readings > readingsFailed)

/**
 * Which two are set side by side where the address names none: the newest, and the one before it through the same lens; of another
 * site its newest.
 */
export function chosenSweeps(
  now: { sweeps: readonly Sweep[]; asked: number | null },
  then: { sweeps: readonly Sweep[]; asked: number | null },
): { now: number | null; then: number | null } {
  const later = now.asked ?? now.sweeps[0]?.id ?? null
  const lens = now.sweeps.find(({ id }) => id === later)?.lensId
  const others = then.sweeps.filter(({ id }) => id !== later)
  const earlier = then.asked ?? (others.find(({ lensId }) => lensId === lens) ?? others[0])?.id ?? null
  return { now: later, then: earlier }
}
