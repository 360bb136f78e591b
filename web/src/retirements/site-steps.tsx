import { useState } from 'react'
import type { RetirementAct } from '@unvelt/contract'
import { useRetire } from '../api/retirements.js'
import { bytes, dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'
import type { StepProps } from './step-list.js'

/** Has something done at the site; where the site can't be asked, says what is to be done by hand. */
export function useDo(siteId: number, id: number) {
  const retire = useRetire(siteId)
  return {
    isPending: retire.isPending,
    ask: (act: RetirementAct, ids?: string[]) =>
      retire.mutate(
        { id, do: { act, ...(ids && { ids }) } },
        { onError: (error) => toast.error(error.message, { duration: 10_000 }) },
      ),
  }
}

export function SnapshotStep({ siteId, sheet, isNow }: StepProps) {
  const { ask, isPending } = useDo(siteId, sheet.id)
  const { snapshot, isInstalled, hasConnector } = sheet
  if (!hasConnector) return <CopyByHand siteId={siteId} sheet={sheet} isNow={isNow} />
  return (
    <>
      {snapshot && (
        <p className={snapshot.sound ? '' : 'text-plum'}>
          Snapshot {snapshot.id}, {dateTime(snapshot.madeAt)}: {bytes(snapshot.bytes)} of the whole site;{' '}
          {plural(snapshot.tables, 'table')} of its own with {plural(snapshot.rows, 'row')}, every table read back and
          {snapshot.sound ? ' as it was written' : ' not as it was written'}.
        </p>
      )}
      {(isInstalled || sheet.wasGone) && sheet.finishedAt === null && (
        <Button
          className="mt-1"
          weight={isNow ? 'main' : 'quiet'}
          disabled={isPending || sheet.doing !== null || sheet.state !== 'open'}
          onClick={() => ask('snapshot')}
        >
          {sheet.doing === 'snapshot' ? 'Being made …' : snapshot ? 'Make a new one' : 'Make a snapshot'}
        </Button>
      )}
    </>
  )
}

/** A site that makes no snapshot: somebody says where the copy is. */
function CopyByHand({ siteId, sheet, isNow }: StepProps) {
  const retire = useRetire(siteId)
  const [copy, setCopy] = useState('')
  const write = (where: string) =>
    retire.mutate({ id: sheet.id, change: { copy: where } }, { onError: (error) => toast.error(error.message) })
  if (sheet.snapshot)
    return (
      <p>
        A copy made by hand, {dateTime(sheet.snapshot.madeAt)}: {sheet.snapshot.name}{' '}
        {sheet.finishedAt === null && (
          <Button weight="quiet" onClick={() => write('')}>
            Take back
          </Button>
        )}
      </p>
    )
  return (
    <>
      <ByHand>Copy the site’s database and files, and try whether the copy can be read.</ByHand>
      <form
        className="mt-1 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          write(copy.trim())
        }}
      >
        <input
          aria-label="Where the copy is"
          placeholder="Where the copy is"
          value={copy}
          maxLength={500}
          onChange={(event) => setCopy(event.target.value)}
          className="h-8 min-w-0 flex-1 border border-line bg-paper px-2"
        />
        <Button type="submit" weight={isNow ? 'main' : 'plain'} disabled={copy.trim() === '' || retire.isPending}>
          It was read
        </Button>
      </form>
    </>
  )
}

export function OffStep({ siteId, sheet, isNow }: StepProps) {
  const { ask, isPending } = useDo(siteId, sheet.id)
  if (!sheet.hasConnector) return isNow ? <ByHand>Switch it off at the site, then sweep.</ByHand> : null
  return (
    <>
      {sheet.offAt && <p className="text-[13.5px] text-soft">Since {dateTime(sheet.offAt)}.</p>}
      {isNow && (
        <Button className="mt-1" weight="main" disabled={isPending} onClick={() => ask('off')}>
          Switch {sheet.features ? 'them' : 'it'} off
        </Button>
      )}
    </>
  )
}

export function RemovalStep({ siteId, sheet, isNow }: StepProps) {
  const { ask, isPending } = useDo(siteId, sheet.id)
  const [isAsking, setAsking] = useState(false)
  if (!sheet.hasConnector) return isNow ? <ByHand>Remove it at the site, then sweep.</ByHand> : null
  return (
    <>
      {sheet.removedAt && <p className="text-[13.5px] text-soft">{dateTime(sheet.removedAt)}.</p>}
      {isNow && (
        <Button className="mt-1" weight="danger" disabled={isPending} onClick={() => setAsking(true)}>
          Remove it …
        </Button>
      )}
      {isAsking && (
        <Window
          title={`Remove ${sheet.name}?`}
          note={`Its files go. Its tables (${plural(sheet.rows, 'row')}, ${bytes(sheet.tableBytes)}), settings and tasks stay until you choose what of them goes. It can be put back from snapshot ${sheet.snapshot?.id ?? ''}.`}
          width={520}
          onClose={() => setAsking(false)}
        >
          <div className="mt-4 flex justify-end">
            <Button
              weight="danger"
              onClick={() => {
                setAsking(false)
                ask('remove')
              }}
            >
              Remove it
            </Button>
          </div>
        </Window>
      )}
    </>
  )
}

export const ByHand = ({ children }: { children: string }) => (
  <p className="text-[13.5px] text-soft">By hand, since the site has no connector: {children}</p>
)
