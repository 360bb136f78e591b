import { useState } from 'react'
import type { GuardView, RehearsalSheet, RehearsedPage } from '@unvelt/contract'
import { useAccept } from '../api/rehearsals.js'
import { GuardCause } from '../complaints/guard-cause.js'
import { CulpritPart } from '../culprit/culprit-part.js'
import { dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { FailedSteps } from './failed-steps.js'
import { GuardMark } from './guard-mark.js'
import { GUARD_WORDS } from './guard-words.js'

const SHOWN = 8

interface FailedGuardProps {
  siteId: number
  sheet: RehearsalSheet
  page: RehearsedPage
  guard: GuardView
  /** Other views where the guard finds nothing else. */
  others: number
}

/** What a guard found, to be accepted with a note or left as it is. */
export function FailedGuard({ siteId, sheet, page, guard, others }: FailedGuardProps) {
  const [note, setNote] = useState<string | null>(null)
  const [everywhere, setEverywhere] = useState(false)
  const accept = useAccept(siteId, sheet.id)
  const at = { pageId: page.pageId, lensId: page.lensId, guard: guard.guard }
  const onError = (error: Error) => toast.error(error.message)
  return (
    <li className="border-b border-line/60 py-2 last:border-0">
      <div className="flex items-center gap-2">
        <GuardMark guard={guard} />
        <b className="font-semibold">{GUARD_WORDS[guard.guard].name}</b>
        <span className="flex-1" />
        {guard.accepted ? (
          <Button weight="quiet" onClick={() => accept.mutate({ unaccept: at }, { onError })}>
            Take back
          </Button>
        ) : (
          note === null && (
            <Button weight="quiet" onClick={() => setNote('')}>
              Accept …
            </Button>
          )
        )}
      </div>
      <Listed sign="−" word="gone" entries={guard.gone} />
      {guard.guard === 'steps' && <FailedSteps rehearsal={sheet.id} page={page} />}
      <Listed sign="+" word="new" entries={guard.came} />
      {guard.accepted && (
        <p className="pl-6.5 text-[13px] text-soft">
          Accepted {dateTime(guard.accepted.acceptedAt)}: {guard.accepted.note}
        </p>
      )}
      {!guard.accepted &&
        sheet.state !== 'running' &&
        sheet.retirementId === null &&
        sheet.effectOf === null &&
        !sheet.round && (
          <CulpritPart
            siteId={siteId}
            rehearsal={sheet.id}
            about={at}
            searches={sheet.searches}
            drafts={sheet.drafts}
          />
        )}
      {sheet.round && sheet.state !== 'running' && <GuardCause round={sheet.id} page={page} guard={guard.guard} />}
      {note !== null && !guard.accepted && (
        <form
          className="mt-1.5 flex flex-wrap items-center gap-2 pl-6.5"
          onSubmit={(event) => {
            event.preventDefault()
            accept.mutate(
              { accept: { ...at, note: note.trim(), everywhere } },
              { onError, onSuccess: () => setNote(null) },
            )
          }}
        >
          <input
            autoFocus
            aria-label="Why this is fine"
            placeholder="Why this is fine"
            maxLength={2000}
            value={note}
            onChange={(event) => setNote(event.target.value)}
            onKeyDown={(event) => event.key === 'Escape' && setNote(null)}
            className="h-8 min-w-0 flex-1 border border-line bg-paper px-2"
          />
          {others > 0 && (
            <label className="order-last flex w-full items-center gap-1.5 text-[13px]">
              <input type="checkbox" checked={everywhere} onChange={(event) => setEverywhere(event.target.checked)} />
              also on the {plural(others, 'other view')} where this guard finds nothing more
            </label>
          )}
          <Button type="submit" weight="main" disabled={note.trim() === '' || accept.isPending}>
            Accept
          </Button>
        </form>
      )}
    </li>
  )
}

function Listed({ sign, word, entries }: { sign: string; word: string; entries: string[] }) {
  if (entries.length === 0) return null
  return (
    <ul aria-label={word} className="pl-6.5 text-[13px]">
      {entries.slice(0, SHOWN).map((entry) => (
        <li key={entry} className="[overflow-wrap:anywhere]">
          <span className="text-soft">{sign}</span> {entry}
        </li>
      ))}
      {entries.length > SHOWN && <li className="text-soft">and {entries.length - SHOWN} more</li>}
    </ul>
  )
}
