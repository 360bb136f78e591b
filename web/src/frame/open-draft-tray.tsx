import { ChevronDown, ChevronUp } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import type { ReadAgain, Site } from '@unvelt/contract'
import { useApplyRules, useUnderWay, type PutLiveWishes } from '../api/deployments.js'
import { usePutTimes } from '../api/put-off.js'
import { useRehearsals, useRehearse } from '../api/rehearsals.js'
import { useDrafts, useSweeps } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { PutOffLine } from '../put-off/put-off-line.js'
import { PutOffWindow } from '../put-off/put-off-window.js'
import { PutLiveWindow } from '../rehearsal/put-live-window.js'
import { isOfDrafts } from '../rehearsal/rehearsal-words.js'
import { RehearseButton } from '../rehearsal/rehearse-button.js'
import { DraftList } from '../rules/draft-list.js'
import { PutLiveButton } from '../rules/put-live-button.js'
import { useDraft } from '../rules/use-draft.js'
import { SavingLine } from '../rules/saving.js'

/** So many pages are read before and after where not all are. */
const SAMPLE = 12

/** What can be done with the drafts that there are. */
export function OpenDraftTray({ site }: { site: Site }) {
  const [open, setOpen] = useState(false)
  const { data: drafts } = useDrafts(site.id)
  const { data: sweeps = [] } = useSweeps(site.id)
  const draft = useDraft(site.id)
  const apply = useApplyRules(site.id)
  const underWay = useUnderWay(site.id)
  const { data: rehearsals = [] } = useRehearsals(site.id)
  const rehearse = useRehearse(site.id)
  const [isAsking, setAsking] = useState(false)
  const [isPuttingOff, setPuttingOff] = useState(false)
  const [inParts, setInParts] = useState(false)
  const { data: times, isPending: isHourUnknown } = usePutTimes(
    site.id,
    drafts !== undefined && drafts.rules.length > 0,
  )
  const [readAgain, setReadAgain] = useState<ReadAgain>('sample')
  if (!drafts || drafts.rules.length === 0) return null
  const firstTouched = drafts.prediction.perPage[0]?.path
  const sweeping = sweeps.some((sweep) => sweep.status === 'running')
  const opensAt = times?.opensAt ?? null
  const newest = times?.putOff[0]
  const putLive = (why?: PutLiveWishes) =>
    apply.mutate(
      { putLive: readAgain, ...why },
      { onError: (error) => toast.error('Nothing was put live', { description: error.message, duration: 12_000 }) },
    )
  const isBusy = apply.isPending || underWay !== undefined
  // The newest one speaks, as it does on the server.
  const hasPassed = rehearsals.find((one) => one.state === 'done' && isOfDrafts(one))?.passed === true
  return (
    <section aria-label="Draft tray" className="border-t-2 border-verdigris bg-sheet">
      {isAsking && (
        <PutLiveWindow
          siteId={site.id}
          inParts={inParts}
          onClose={() => setAsking(false)}
          onRehearse={() => {
            setAsking(false)
            rehearse.mutate({}, { onError: (error) => toast.error(error.message) })
          }}
          net={site.net}
          onPutLive={(reason, net) => {
            setAsking(false)
            putLive({ unrehearsed: reason, inParts, ...(net && { net }) })
          }}
        />
      )}
      {isPuttingOff && (
        <PutOffWindow
          site={site}
          readAgain={readAgain}
          inParts={inParts}
          hasPassed={hasPassed}
          opensAt={opensAt}
          onClose={() => setPuttingOff(false)}
          onPutNow={(unrehearsed) => {
            setPuttingOff(false)
            putLive({ evenNow: true, inParts, ...(unrehearsed !== undefined && { unrehearsed }) })
          }}
        />
      )}
      {(newest?.state === 'waiting' || newest?.state === 'refused') && <PutOffLine siteId={site.id} putOff={newest} />}
      {open && (
        <div className="max-h-64 overflow-auto border-b border-line px-4 py-2">
          <DraftList site={site} rules={drafts.rules} />
        </div>
      )}
      <div className="flex min-h-13 flex-wrap items-center gap-x-4 gap-y-1.5 px-4 py-1.5 lg:flex-nowrap">
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="flex shrink-0 items-center gap-1.5 font-semibold whitespace-nowrap"
        >
          {open ? <ChevronDown size={16} aria-hidden /> : <ChevronUp size={16} aria-hidden />}
          {plural(drafts.rules.length, 'draft')}
        </button>
        <div className="line-clamp-2 min-w-0">
          <SavingLine prediction={drafts.prediction} />
        </div>
        <div className="ml-auto flex flex-wrap items-center justify-end gap-2 lg:shrink-0">
          <Link
            to={`/sites/${site.id}/preview${firstTouched ? `?path=${encodeURIComponent(firstTouched)}` : ''}`}
            className="mr-2 whitespace-nowrap text-verdigris hover:underline"
          >
            Look for yourself
          </Link>
          <RehearseButton siteId={site.id} disabled={isBusy} />
          {site.hasConnector && (
            <select
              aria-label="Pages to read before and after"
              className="h-8 border border-line bg-paper px-2"
              value={readAgain}
              onChange={(event) => setReadAgain(event.target.value as ReadAgain)}
            >
              <option value="sample">
                then read {plural(Math.min(SAMPLE, drafts.prediction.pages), 'page')} again
              </option>
              {drafts.prediction.pages > SAMPLE && (
                <option value="all">then read all {drafts.prediction.pages} again</option>
              )}
              <option value="none">read none again</option>
            </select>
          )}
          <Button weight="quiet" disabled={draft.isPending || isBusy} onClick={draft.clear}>
            Throw away
          </Button>
          {site.hasConnector && (
            <Button disabled={isBusy || newest?.state === 'waiting'} onClick={() => setPuttingOff(true)}>
              Later …
            </Button>
          )}
          {!site.hasConnector && (
            <Link
              to={`/sites/${site.id}/rules#gate`}
              className="inline-flex h-8 shrink-0 items-center rounded-xs bg-verdigris px-3 font-medium text-on-verdigris hover:opacity-90"
            >
              Hand out and verify …
            </Link>
          )}
          {site.hasConnector && (
            <PutLiveButton
              words={isBusy ? 'Putting live …' : 'Put live'}
              // Whoever presses before it is known would be asked nothing at an hour in which nothing goes live.
              disabled={isBusy || sweeping || isHourUnknown}
              title={sweeping ? 'A sweep is under way; the touched pages are read when it has ended.' : undefined}
              offersParts={drafts.prediction.pages > 1}
              onPutLive={(inParts) => {
                setInParts(inParts)
                if (opensAt) setPuttingOff(true)
                else if (hasPassed) putLive({ inParts })
                else setAsking(true)
              }}
            />
          )}
        </div>
      </div>
    </section>
  )
}
