import { useMemo } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import type { TraceView } from '@unvelt/contract'
import { useLedger } from '../api/queries.js'
import { bytes, dateTime, milliseconds, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { ServerView } from '../pages/server-view.js'
import { Failed, Loading } from '../parts/notice.js'
import { TraceLines } from './trace-lines.js'
import { useTrace } from './queries.js'

/** One trace: what the server did for one request or task, step by step. */
export function TracePlace() {
  const site = useSite()
  const [search] = useSearchParams()
  const trace = useTrace(site.id, useParams().trace!)
  const ledger = useLedger(site.id, search.get('sweep'))
  const names = useMemo(() => new Map(ledger.data?.payers.map(({ slug, name }) => [slug, name])), [ledger.data])
  if (trace.isError) return <Failed error={trace.error} retry={() => void trace.refetch()} />
  if (!trace.data) return <Loading what="the trace" />
  const { root, spans, more, work } = trace.data
  return (
    <div className="h-full overflow-auto pb-10">
      <div className="border-b border-line px-4 pt-4 pb-3">
        <p className="text-[13px] text-soft">
          <Link to={`/sites/${site.id}/pages?view=beside`} className="text-verdigris hover:underline">
            Actions and tasks
          </Link>{' '}
          · {root.kind === 'task' ? 'scheduled task' : 'request'}
        </p>
        <h1 className="mt-0.5 text-[22px]">{root.name}</h1>
        <p className="text-soft">{factsOf(trace.data)}</p>
        {root.failure && <p className="text-plum">{root.failure}</p>}
      </div>
      <TraceLines lines={spans} more={more} names={names} />
      <div className="border-t border-line">
        <ServerView work={work} names={names} />
      </div>
    </div>
  )
}

const factsOf = ({ root, work }: TraceView) =>
  [
    milliseconds(root.ms),
    plural(work.spans, 'span'),
    root.peakMemoryBytes !== null && `at most ${bytes(root.peakMemoryBytes)} of memory in use`,
    dateTime(root.startedAt),
  ]
    .filter(Boolean)
    .join(' · ')
