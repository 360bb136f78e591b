import type { StoredSweep } from '@unvelt/contract'

/** Which sweep it is, by what it was made for. */
export function purposeWords({ id, purpose }: Pick<StoredSweep, 'id' | 'purpose'>): string {
  if (purpose === 'proof') return `Before and after, sweep ${id}`
  if (purpose === 'shares') return `Whose gain, sweep ${id}`
  return purpose === 'weigh-in' ? `Weigh-in, sweep ${id}` : `Sweep ${id}`
}

/** What a sweep is kept for, and what is told by it. */
export function keptWords({
  keptFor,
  tells,
  shown,
  inFull,
}: Pick<StoredSweep, 'keptFor' | 'tells' | 'shown' | 'inFull'>): string {
  const words = [
    inFull ? '' : 'its tolls',
    shown ? 'what screens show' : '',
    keptFor === 'running' ? 'it is under way' : '',
    keptFor === 'proof' ? 'a proof' : '',
    keptFor === 'weigh-in' ? 'a weigh-in' : '',
    tells === null ? '' : `the gain of ${tells}’s retirement`,
  ].filter(Boolean)
  return words.join(', ')
}
