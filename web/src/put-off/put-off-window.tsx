import { useState } from 'react'
import type { ReadAgain, Site } from '@unvelt/contract'
import { usePutOff, useWithdrawPutOff } from '../api/put-off.js'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'
import { atHour, atInput, nextMorning } from './hours.js'

interface PutOffWindowProps {
  site: Site
  readAgain: ReadAgain
  /** Whether they are to go on one page of each kind first, as was asked for. */
  inParts: boolean
  /** Whether a rehearsal of just these drafts has passed. */
  hasPassed: boolean
  /** Set where nothing goes live at this hour. */
  opensAt: string | null
  onClose(): void
  /** Although nothing is to go live now; with the reason where no rehearsal has passed. */
  onPutNow(unrehearsed?: string): void
}

/** Asked when drafts are to go live later: because somebody wants it so, or since nothing goes live at this hour. */
export function PutOffWindow({ site, readAgain, inParts, hasPassed, opensAt, onClose, onPutNow }: PutOffWindowProps) {
  const [due, setDue] = useState(() => atInput(opensAt ? new Date(opensAt) : nextMorning(new Date())))
  const [reason, setReason] = useState('')
  const [parts, setParts] = useState(inParts)
  const putOff = usePutOff(site.id)
  const withdraw = useWithdrawPutOff(site.id)
  const lacksReason = !hasPassed && reason.trim() === ''
  const unrehearsed = hasPassed ? undefined : reason.trim()
  const save = () =>
    putOff.mutate(
      {
        dueAt: atHour(due).toISOString(),
        readAgain,
        inParts: parts,
        ...(unrehearsed !== undefined && { unrehearsed }),
      },
      {
        onSuccess: ({ id, dueAt }) => {
          onClose()
          toast(`They go live ${dateTime(dueAt)}`, { action: { label: 'Undo', onClick: () => withdraw.mutate(id) } })
        },
      },
    )
  return (
    <Window
      title={opensAt ? 'Nothing goes live at this hour' : 'Put live later'}
      note={
        opensAt
          ? `The site’s settings say so until ${dateTime(opensAt)}.`
          : 'They stay drafts until then, and are looked at once more before they go live by themselves.'
      }
      width={540}
      onClose={onClose}
    >
      <form
        className="mt-4 grid gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          save()
        }}
      >
        <label className="grid gap-1">
          <span className="font-semibold">They go live</span>
          <input
            type="datetime-local"
            required
            value={due}
            onChange={(event) => setDue(event.target.value)}
            className="figures h-9 w-60 border border-line bg-paper px-2"
          />
          <span className="text-[13px] text-soft">
            By this device’s clock. Should the drafts or the site’s rules be others by then, nothing goes live and the
            tray says so.
          </span>
        </label>
        <label className="flex items-baseline gap-2">
          <input type="checkbox" checked={parts} onChange={(event) => setParts(event.target.checked)} />
          <span>
            In parts{' '}
            <span className="text-[13px] text-soft">
              First on one page of each kind, and on the rest when all guards hold there.
            </span>
          </span>
        </label>
        {!hasPassed && (
          <label className="grid gap-1">
            <span className="font-semibold">Why they go live without a rehearsal that passed</span>
            <input
              value={reason}
              maxLength={2000}
              onChange={(event) => setReason(event.target.value)}
              className="h-9 border border-line bg-paper px-2"
            />
          </label>
        )}
        {putOff.error && (
          <p role="alert" className="text-[13.5px] text-plum">
            {putOff.error.message}
          </p>
        )}
        <div className="flex justify-end gap-2">
          {opensAt && (
            <Button weight="danger" disabled={lacksReason} onClick={() => onPutNow(unrehearsed)}>
              Put live all the same
            </Button>
          )}
          <Button type="submit" weight="main" disabled={due === '' || lacksReason || putOff.isPending}>
            Put off until then
          </Button>
        </div>
      </form>
    </Window>
  )
}
