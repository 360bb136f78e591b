import { useState } from 'react'
import { useRehearsals } from '../api/rehearsals.js'
import { Button } from '../parts/button.js'
import { Window } from '../parts/window.js'
import { rehearsalWords } from './rehearsal-words.js'

interface PutLiveWindowProps {
  siteId: number
  onClose(): void
  onRehearse(): void
  /** With the reason, which is kept with the change. */
  onPutLive(reason: string): void
}

/** Asked before drafts go live of which no rehearsal has passed. */
export function PutLiveWindow({ siteId, onClose, onRehearse, onPutLive }: PutLiveWindowProps) {
  const [reason, setReason] = useState('')
  const { data: rehearsals = [] } = useRehearsals(siteId)
  const newest = rehearsals.find(
    ({ state, stale, retirementId }) => state === 'done' && stale === null && retirementId === null,
  )
  return (
    <Window
      title={newest ? 'The rehearsal did not pass' : 'These drafts have not been rehearsed'}
      note={
        newest
          ? `In the rehearsal ${rehearsalWords(newest)}.`
          : 'A rehearsal tries them on the real pages, and no visitor sees it.'
      }
      width={520}
      onClose={onClose}
    >
      <form
        className="mt-4 grid gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          onPutLive(reason.trim())
        }}
      >
        <label className="grid gap-1">
          <span className="font-semibold">Why they go live all the same</span>
          <input
            value={reason}
            maxLength={2000}
            onChange={(event) => setReason(event.target.value)}
            className="h-9 border border-line bg-paper px-2"
          />
          <span className="text-[13px] text-soft">Is kept with the change, for whoever asks later.</span>
        </label>
        <div className="flex justify-end gap-2">
          <Button type="submit" weight="danger" disabled={reason.trim() === ''}>
            Put live all the same
          </Button>
          <Button weight="main" onClick={onRehearse}>
            {newest ? 'Rehearse again' : 'Rehearse'}
          </Button>
        </div>
      </form>
    </Window>
  )
}
