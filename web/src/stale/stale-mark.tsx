import { useSearchParams } from 'react-router'
import type { Site, Stale } from '@unvelt/contract'
import { useLedger, useSweeps } from '../api/queries.js'
import { useReadStaleAgain, useStale } from '../api/stale.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { PopUp } from '../parts/pop-up.js'
import { toast } from '../parts/toast.js'
import { causeWords, whoWords } from './stale-words.js'

const MOST_NAMED = 8

/** Beside the sweep whose figures are shown, on every place: how many of its pages hold no longer. */
export function StaleMark({ site }: { site: Site }) {
  const [search] = useSearchParams()
  const { data: ledger } = useLedger(site.id, search.get('sweep'))
  const { data: stale } = useStale(site.id, ledger?.sweep?.status === 'done' ? ledger.sweep.id : undefined)
  if (!stale || stale.pages.length === 0) return null
  return (
    <PopUp
      align="start"
      label="What changed since these figures were read"
      className="w-[min(460px,94vw)] p-4"
      button={
        <button
          type="button"
          className="flex h-7 shrink-0 items-center gap-1.5 border border-plum/60 px-2 text-[13px] hover:bg-wash max-md:order-last"
        >
          <span aria-hidden className="size-1.5 bg-plum" />
          {stale.pages.length === stale.pagesRead && stale.pagesRead > 1
            ? 'All pages changed since'
            : `${plural(stale.pages.length, 'page')} changed since`}
        </button>
      }
    >
      {(close) => <Causes site={site} stale={stale} onBegun={close} />}
    </PopUp>
  )
}

function Causes({ site, stale, onBegun }: { site: Site; stale: Stale; onBegun(): void }) {
  const { data: sweeps = [] } = useSweeps(site.id)
  const again = useReadStaleAgain(site.id)
  const { causes, pages, pagesRead, sweepId, whyNotAgain } = stale
  const isBusy = sweeps.some(({ status }) => status === 'running')
  const more = causes.slice(MOST_NAMED)
  return (
    <>
      <p>
        The figures of {plural(pages.length, 'page')} of {pagesRead} are older than what happened since:
      </p>
      <ul className="mt-2 grid gap-1.5">
        {causes.slice(0, MOST_NAMED).map((cause) => (
          <li key={`${cause.kind} ${cause.slug} ${cause.version}`} className="flex items-baseline gap-3">
            <span className="min-w-0 flex-1">
              {causeWords(cause)}
              <span className="block text-[13px] text-soft">{whoWords(cause)}</span>
            </span>
            <span className="figures text-[13px] whitespace-nowrap text-soft">{plural(cause.pages, 'page')}</span>
          </li>
        ))}
      </ul>
      {more.length > 0 && <p className="mt-1 text-soft">And {plural(more.length, 'more change')}.</p>}
      <div className="mt-3 flex items-center gap-3">
        <Button
          weight="main"
          disabled={again.isPending || isBusy || whyNotAgain !== null}
          onClick={() =>
            again.mutate(
              { sweep: sweepId },
              { onSuccess: onBegun, onError: (error) => toast.error(error.message, { duration: 12_000 }) },
            )
          }
        >
          {pages.length === 1 ? 'Read it again' : `Read these ${pages.length} again`}
        </Button>
        <span className="text-[13px] text-soft">
          {whyNotAgain ??
            (isBusy
              ? 'A sweep is under way.'
              : pages.length < pagesRead
                ? 'The others are taken over as they were read.'
                : 'That is a whole sweep.')}
        </span>
      </div>
    </>
  )
}
