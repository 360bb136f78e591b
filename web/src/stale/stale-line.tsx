import type { StaleCauseView } from '@unvelt/contract'
import { useSweeps } from '../api/queries.js'
import { useReadStaleAgain, useStale } from '../api/stale.js'
import { plural } from '../figures/format.js'
import { toast } from '../parts/toast.js'
import { causeWords, whoWords } from './stale-words.js'

interface StaleLineProps {
  siteId: number
  sweepId: number | undefined
  /** What is told of: a page, an add-on, or the sweep as a whole. */
  of?: { page: number } | { addOn: string }
}

const MOST_NAMED = 3

/** Below figures that hold no longer, what happened since they were read. */
export function StaleLine({ siteId, sweepId, of }: StaleLineProps) {
  const { data: stale } = useStale(siteId, sweepId)
  const { data: sweeps = [] } = useSweeps(siteId)
  const again = useReadStaleAgain(siteId)
  if (!stale) return null
  const page = of && 'page' in of ? stale.pages.find(({ id }) => id === of.page) : undefined
  const told: StaleCauseView[] =
    of && 'page' in of
      ? (page?.causes ?? []).map((at) => stale.causes[at]!)
      : of
        ? stale.causes.filter(({ slug }) => slug === of.addOn)
        : stale.causes
  if (told.length === 0) return null
  const isBusy = sweeps.some(({ status }) => status === 'running')
  return (
    <p role="status" className="mt-2 max-w-3xl border-l-2 border-plum pl-3 text-[13.5px]">
      Since this was read:{' '}
      {told.slice(0, MOST_NAMED).map((cause, at) => (
        <span key={`${cause.kind} ${cause.slug} ${cause.version}`}>
          {at > 0 && '; '}
          {causeWords(cause)}
          {whoWords(cause) && <span className="text-soft"> ({whoWords(cause)})</span>}
          {!page && <span className="text-soft"> on {plural(cause.pages, 'page')}</span>}
        </span>
      ))}
      {told.length > MOST_NAMED && `; and ${told.length - MOST_NAMED} more`}.{' '}
      {page && stale.whyNotAgain === null && (
        <button
          type="button"
          disabled={again.isPending || isBusy}
          onClick={() =>
            again.mutate(
              { sweep: stale.sweepId, pageIds: [page.id] },
              { onError: (error) => toast.error(error.message) },
            )
          }
          className="text-verdigris hover:underline disabled:text-soft disabled:no-underline"
        >
          Read it again
        </button>
      )}
    </p>
  )
}
