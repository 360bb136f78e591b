import { useState } from 'react'
import type { Net } from '@unvelt/contract'
import { useRehearsals } from '../api/rehearsals.js'
import { Button } from '../parts/button.js'
import { Window } from '../parts/window.js'
import { isOfDrafts, rehearsalWords } from './rehearsal-words.js'

interface PutLiveWindowProps {
  siteId: number
  /** What the site wants where a guard fails once they are live. */
  net: Net
  /** First on one page of each kind. */
  inParts: boolean
  onClose(): void
  onRehearse(): void
  /** With the reason, which is kept with the change. */
  onPutLive(reason: string, net?: Net): void
}

/** Asked before drafts go live of which no rehearsal has passed. */
export function PutLiveWindow({ siteId, net, inParts, onClose, onRehearse, onPutLive }: PutLiveWindowProps) {
  const [reason, setReason] = useState('')
  const [stays, setStays] = useState(false)
  const { data: rehearsals = [] } = useRehearsals(siteId)
  const newest = rehearsals.find((one) => one.state === 'done' && one.stale === null && isOfDrafts(one))
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
          onPutLive(reason.trim(), stays ? 'tell' : undefined)
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
        {inParts && (
          <p className="text-[13.5px]">
            They go live on one page of each kind first, and on the rest when all guards hold there.
          </p>
        )}
        {net === 'take-back' && (
          <label className="flex items-baseline gap-2">
            <input type="checkbox" checked={stays} onChange={(event) => setStays(event.target.checked)} />
            <span>
              Leave them live even where a guard fails{' '}
              <span className="text-[13px] text-soft">
                {inParts
                  ? 'On the rest; the first part is taken back in any case.'
                  : 'Else they are taken back by themselves.'}
              </span>
            </span>
          </label>
        )}
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
