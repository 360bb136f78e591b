import { useState } from 'react'
import { SHARE_ROUNDS, type ProofShares, type SharePage } from '@unvelt/contract'
import { useSweeps } from '../api/queries.js'
import { useFindShares, useShares } from '../api/shares.js'
import { dateTime, plural, roughly } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { ShareTable } from './share-table.js'

const ROUNDS = [SHARE_ROUNDS, 8, 12]

/** Which of its changes a gain comes from: found by reading a page with one or several of them at a time. */
export function WhoseGain({ siteId, proofId }: { siteId: number; proofId: number }) {
  const { data: offer } = useShares(siteId, proofId)
  const { data: sweeps = [] } = useSweeps(siteId)
  const find = useFindShares(siteId, proofId)
  const [pageId, setPageId] = useState<number | null>(null)
  const [rounds, setRounds] = useState(SHARE_ROUNDS)
  // Of one change there is nothing to be shared out, and nothing to be said about it.
  if (!offer || offer.changeCount < 2) return null
  const page = offer.pages.find(({ id }) => id === pageId) ?? offer.pages[0]
  const isBusy = sweeps.some(({ status }) => status === 'running')
  const found = page ? offer.found.filter(({ page: { id } }) => id === page.id)[0] : offer.found[0]
  return (
    <section aria-label="Whose gain it is" className="border-b border-line px-4 pt-4 pb-5">
      <h2 className="text-[17px]">Whose gain it is</h2>
      <p className="max-w-3xl text-[13.5px] text-soft">
        {plural(offer.changeCount, 'change')} went live together. Read with one or several of them at a time, the page
        tells what each has of the gain; the shares add up to it.
      </p>
      {offer.whyNot !== null && <p className="mt-2 text-[13.5px]">{offer.whyNot}</p>}
      {page && (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          <select
            aria-label="Page to find the shares on"
            value={page.id}
            onChange={(event) => setPageId(Number(event.target.value))}
            className="h-8 max-w-90 border border-line bg-paper px-2"
          >
            {offer.pages.map(({ id, path, touching }) => (
              <option key={id} value={id}>
                {path}, {plural(touching, 'change')}
              </option>
            ))}
          </select>
          <select
            aria-label="Readings under each set of changes"
            value={rounds}
            onChange={(event) => setRounds(Number(event.target.value))}
            className="h-8 border border-line bg-paper px-2"
          >
            {ROUNDS.map((n) => (
              <option key={n} value={n}>
                {n} readings each
              </option>
            ))}
          </select>
          <Button
            disabled={find.isPending || isBusy}
            title={isBusy ? 'A sweep is under way.' : undefined}
            onClick={() =>
              find.mutate(
                { pageId: page.id, rounds },
                { onError: (error) => toast.error(error.message, { duration: 12_000 }) },
              )
            }
          >
            {found ? 'Find it once more' : 'Find whose gain it is'}
          </Button>
          <span className="text-[13px] text-soft">{costWords(page, rounds, offer.secondsEach)}</span>
        </div>
      )}
      {found && <Found found={found} />}
    </section>
  )
}

function costWords({ sets }: SharePage, rounds: number, secondsEach: number | null): string {
  const readings = sets * rounds
  const long = secondsEach === null ? '' : `, about ${roughly(secondsEach * readings)}`
  return `${plural(sets, 'set')} of changes, ${plural(readings, 'reading')}${long}.`
}

function Found({ found }: { found: ProofShares }) {
  const { sweep, measures, drawn, sets } = found
  const state =
    sweep.status === 'running'
      ? `${sweep.readings} of ${sweep.readingsPlanned} readings so far.`
      : sweep.status === 'done'
        ? `${sweep.readings} readings of ${found.page.path}, ${dateTime(sweep.startedAt)}.`
        : `Ended after ${sweep.readings} of ${sweep.readingsPlanned} readings.`
  return (
    <>
      <p role="status" className="mt-3 text-[13.5px]">
        {state}{' '}
        {drawn && (
          <span className="text-soft">
            Of all sets {sets} were read, as drawn orders have them; what that leaves open is in the intervals.
          </span>
        )}
        {sweep.failures.map(({ reason }) => (
          <span key={reason} className="text-plum">
            {' '}
            {reason}
          </span>
        ))}
      </p>
      {measures.length === 0 ? (
        <p className="mt-1 text-soft">Nothing has been read under every set yet.</p>
      ) : (
        <ShareTable found={found} />
      )}
    </>
  )
}
