import type { GuardView } from '@unvelt/contract'
import { outcomeWords } from './guard-words.js'

/** One guard's outcome as a mark that is told by its shape, with its word for who can't see it. */
export function GuardMark({ guard }: { guard: GuardView }) {
  const word = outcomeWords(guard)
  const fails = guard.outcome === 'fails'
  return (
    <svg width="18" height="18" viewBox="0 0 18 18" role="img" aria-label={word} className="inline-block align-middle">
      <title>{word}</title>
      {fails && !guard.accepted && (
        <>
          <rect x="1" y="1" width="16" height="16" fill="var(--plum)" />
          <path d="M5 5 L13 13 M13 5 L5 13" stroke="var(--sheet)" strokeWidth="2" />
        </>
      )}
      {fails && guard.accepted && (
        <>
          <rect x="1.5" y="1.5" width="15" height="15" fill="none" stroke="var(--plum)" />
          <path d="M4.5 9.5 L8 13 L13.5 5.5" fill="none" stroke="var(--plum)" strokeWidth="1.6" />
        </>
      )}
      {guard.outcome === 'holds' && (
        <path d="M4 9.5 L7.5 13 L14 5" fill="none" stroke="var(--verdigris)" strokeWidth="1.6" />
      )}
      {guard.outcome === 'aside' && <path d="M4 6 L14 6 M4 12 L14 12" stroke="var(--soft)" strokeWidth="1.4" />}
      {guard.outcome === 'unknown' && <circle cx="9" cy="9" r="1.4" fill="var(--line)" />}
    </svg>
  )
}
