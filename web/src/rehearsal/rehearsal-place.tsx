import { Link, useParams, useSearchParams } from 'react-router'
import type { LiveRound, RehearsalSheet, RehearsedPage } from '@unvelt/contract'
import { useRehearsal, useRehearse, useStopRehearsal } from '../api/rehearsals.js'
import { useSortOut } from '../api/culprits.js'
import { useDrafts } from '../api/queries.js'
import { dateTime, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { toast } from '../parts/toast.js'
import { BestRoundLine } from './best-round.js'
import { GuardTable } from './guard-table.js'
import { MeasuredGain } from './measured-gain.js'
import { RehearsedPageDetail } from './rehearsed-page-detail.js'
import { rehearsalTitle, rehearsalWords } from './rehearsal-words.js'
import { RoundActions } from './round-actions.js'

/** Drafts as they were tried on the real pages, page by page. */
export function RehearsalPlace() {
  const site = useSite()
  const rehearsal = useRehearsal(site.id, Number(useParams().rehearsal))
  if (rehearsal.isPending) return <Loading what="the rehearsal" />
  if (rehearsal.isError) return <Failed error={rehearsal.error} retry={() => void rehearsal.refetch()} />
  return <Sheet siteId={site.id} sheet={rehearsal.data} />
}

const isFailing = ({ state, guards }: RehearsedPage) =>
  state === 'failed' || guards.some(({ outcome, accepted }) => outcome === 'fails' && !accepted)

function Sheet({ siteId, sheet }: { siteId: number; sheet: RehearsalSheet }) {
  const [search, setSearch] = useSearchParams()
  const asked = sheet.each.find(
    ({ pageId, lensId }) => search.get('page') === String(pageId) && search.get('lens') === String(lensId),
  )
  const chosen = asked ?? sheet.each.find(isFailing) ?? sheet.each.find(({ state }) => state === 'done')
  return (
    <div className="h-full overflow-auto">
      <PlaceHead title={rehearsalTitle(sheet)} action={<Actions siteId={siteId} sheet={sheet} />}>
        {capital(rehearsalWords(sheet))}. {dateTime(sheet.startedAt)};{' '}
        {sheet.round ? <HeldAgainst siteId={siteId} round={sheet.round} /> : MADE[sheet.mechanism]}.{' '}
        {!sheet.round &&
          sheet.lookedAt < sheet.touched &&
          `${sheet.lookedAt} of ${sheet.touched} touched pages are looked at. `}
        <Link to={`/sites/${siteId}/rules`} className="text-verdigris hover:underline">
          All rehearsals
        </Link>
      </PlaceHead>
      {sheet.stale !== null && sheet.state !== 'running' && (
        <p role="status" className="border-b border-line bg-wash px-4 py-1.5">
          It says nothing of what would go live now: {sheet.stale}
        </p>
      )}
      <BestRoundLine siteId={siteId} sheet={sheet} />
      <MeasuredGain sheet={sheet} />
      <GuardTable
        each={sheet.each}
        chosen={chosen}
        onChoose={({ pageId, lensId }) =>
          setSearch({ page: String(pageId), lens: String(lensId) }, { replace: true, preventScrollReset: true })
        }
      />
      {chosen && (
        <RehearsedPageDetail key={`${chosen.pageId} ${chosen.lensId}`} siteId={siteId} sheet={sheet} page={chosen} />
      )}
    </div>
  )
}

const MADE: Record<RehearsalSheet['mechanism'], string> = {
  site: 'the site itself made the pages under the drafts, and no visitor saw them',
  rewriter: 'core’s rewriter applied the drafts, and no visitor saw them',
  live: 'the pages as visitors get them, beside the same under the rules before',
}

function HeldAgainst({ siteId, round }: { siteId: number; round: LiveRound }) {
  if (round.against === null)
    return <>the pages as visitors get them, for the first time: what is wrong is wrong by itself</>
  return (
    <>
      the pages as visitors get them, beside{' '}
      <Link to={`/sites/${siteId}/rules/rehearsals/${round.against}`} className="text-verdigris hover:underline">
        how they should be
      </Link>
    </>
  )
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

function Actions({ siteId, sheet }: { siteId: number; sheet: RehearsalSheet }) {
  const stop = useStopRehearsal(siteId)
  const again = useRehearse(siteId)
  const { data: drafts } = useDrafts(siteId)
  const onError = (error: Error) => toast.error(error.message)
  if (sheet.state === 'running')
    return (
      <Button disabled={stop.isPending} onClick={() => stop.mutate(sheet.id, { onError })}>
        Stop
      </Button>
    )
  if (sheet.round) return <RoundActions siteId={siteId} sheet={sheet} />
  if (sheet.retirementId !== null)
    return (
      <Link
        to={`/sites/${siteId}/retirements/${sheet.retirementId}`}
        className="inline-flex h-8 shrink-0 items-center rounded-xs border border-verdigris/60 px-3 font-medium text-verdigris hover:bg-wash"
      >
        Back to the retirement
      </Link>
    )
  if (!drafts || drafts.rules.length === 0) return null
  return (
    <div className="flex flex-wrap justify-end gap-2">
      {sheet.failing > 0 && sheet.best === null && sheet.stale === null && <SortOut siteId={siteId} sheet={sheet} />}
      <Button disabled={again.isPending} onClick={() => again.mutate({ mode: 'times' }, { onError })}>
        Again, with times
      </Button>
      <Button disabled={again.isPending} onClick={() => again.mutate({}, { onError })}>
        Rehearse {plural(drafts.rules.length, 'draft')} again
      </Button>
    </div>
  )
}

/** One press in the place of many: what breaks is looked for and set aside, and the rest rehearsed, until it passes. */
function SortOut({ siteId, sheet }: { siteId: number; sheet: RehearsalSheet }) {
  const sortOut = useSortOut(siteId, sheet.id)
  return (
    <Button
      disabled={sortOut.isPending}
      onClick={() => sortOut.mutate(undefined, { onError: (error) => toast.error(error.message) })}
    >
      Set aside what breaks
    </Button>
  )
}
