import { Link, useParams } from 'react-router'
import { PROOF_REPEATS, type Proof, type ProofPage } from '@unvelt/contract'
import { useApplyRules, useUnderWay } from '../api/deployments.js'
import { useLiveRules, useProof, useReadMore } from '../api/queries.js'
import { dateTime, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { WhoseGain } from '../shares/whose-gain.js'
import { FilmPart } from '../film/film-part.js'
import { toast } from '../parts/toast.js'
import { StaleLine } from '../stale/stale-line.js'
import { FigureRow } from './figure-row.js'

/** One change: each page it touched before and after, with how sure the difference is. */
export function ProofPlace() {
  const site = useSite()
  const proof = useProof(site.id, Number(useParams().proof))
  if (proof.isPending) return <Loading what="the proof" />
  if (proof.isError) return <Failed error={proof.error} retry={() => void proof.refetch()} />
  return <ProofOf siteId={site.id} proof={proof.data} />
}

function ProofOf({ siteId, proof }: { siteId: number; proof: Proof }) {
  const { sweep } = proof
  const running = sweep.status === 'running'
  return (
    <div className="h-full overflow-auto">
      <PlaceHead title={proof.title} action={<Actions siteId={siteId} proof={proof} />}>
        {running
          ? `Reading ${plural(sweep.pages, 'page')} with and without the change: ${sweep.readings} of ${sweep.readingsPlanned} readings.`
          : `Version ${proof.fromVersion} against ${proof.toVersion}, ${dateTime(sweep.startedAt)}. ${sweep.readings} readings, before and after in turn; ${sweep.lens}, site caches bypassed.`}
      </PlaceHead>
      {!running && (
        <div className="px-4">
          <StaleLine siteId={siteId} sweepId={sweep.id} />
        </div>
      )}
      {sweep.failures.map(({ reason, paths }) => (
        <p key={reason} role="alert" className="border-b border-line px-4 py-1.5 text-plum">
          {reason} ({paths.join(', ')})
        </p>
      ))}
      {!running && <WhoseGain siteId={siteId} proofId={proof.id} />}
      {proof.pages.length === 0 && <p className="px-4 py-6 text-soft">The first reading is under way.</p>}
      {proof.pages.map((page) => (
        <PageProof key={page.page.id} siteId={siteId} proofId={proof.id} page={page} running={running} />
      ))}
    </div>
  )
}

function PageProof({
  siteId,
  proofId,
  page: { page, figures, predicted },
  running,
}: {
  siteId: number
  proofId: number
  page: ProofPage
  running: boolean
}) {
  return (
    <section className="px-4 pt-4 pb-6">
      <h2 className="text-[17px]">
        <Link to={`/sites/${siteId}/pages/${page.id}`} className="hover:text-verdigris">
          {page.title}
        </Link>{' '}
        <span className="font-sans text-[14px] font-normal text-soft">{page.path}</span>
      </h2>
      <table aria-label={`Before and after of ${page.title}`} className="figures mt-2 w-full max-w-[980px]">
        <thead>
          <tr className="border-b border-line text-left text-[12.5px] text-soft">
            <th className="py-1 font-normal">Median over the repeats</th>
            <th className="py-1 text-right font-normal">before</th>
            <th className="py-1 text-right font-normal">after</th>
            <th className="py-1 text-right font-normal">difference</th>
            {Object.keys(predicted).length > 0 && <th className="py-1 text-right font-normal">predicted</th>}
            <th className="py-1 pl-6 font-normal">95 % interval</th>
            <th className="py-1 pl-6 font-normal">all readings</th>
            <th className="py-1 pl-6 font-normal">in a word</th>
          </tr>
        </thead>
        <tbody>
          {Object.entries(figures).map(([measure, figure]) => (
            <FigureRow
              key={measure}
              measure={measure}
              figure={figure}
              running={running}
              {...(Object.keys(predicted).length > 0 && { predicted: predicted[measure] ?? null })}
            />
          ))}
        </tbody>
      </table>
      {!running && <FilmPart siteId={siteId} proofId={proofId} pageId={page.id} />}
    </section>
  )
}

function Actions({ siteId, proof }: { siteId: number; proof: Proof }) {
  const more = useReadMore(siteId, proof.id)
  return (
    <div className="flex flex-wrap items-center justify-end gap-2">
      {proof.pages.length > 0 && (
        <Link
          to={`/sites/${siteId}/proof/${proof.id}/hand-over`}
          className="inline-flex h-8 items-center rounded-xs border border-verdigris/60 px-3 font-medium whitespace-nowrap text-verdigris hover:bg-wash"
        >
          Hand it over …
        </Link>
      )}
      {proof.sweep.status === 'done' && (
        <Button
          disabled={more.isPending}
          title="A word that lacks readings gets them, and the intervals get narrower."
          onClick={() => more.mutate(undefined, { onError: (error) => toast.error(error.message) })}
        >
          Read {PROOF_REPEATS} times more
        </Button>
      )}
      <TakeBack siteId={siteId} proof={proof} />
    </div>
  )
}

/** Offered while this very change is what is live. */
function TakeBack({ siteId, proof }: { siteId: number; proof: Proof }) {
  const live = useLiveRules(siteId)
  const apply = useApplyRules(siteId)
  const underWay = useUnderWay(siteId)
  if (live.data?.version !== proof.toVersion) return null
  const takeBack = () =>
    apply.mutate(
      { backTo: proof.fromVersion, live: proof.toVersion },
      { onError: (error) => toast.error('Nothing was taken back', { description: error.message }) },
    )
  return (
    <Button
      weight="danger"
      disabled={apply.isPending || underWay !== undefined || proof.sweep.status === 'running'}
      onClick={takeBack}
    >
      {apply.isPending || underWay ? 'Taking back …' : 'Take back'}
    </Button>
  )
}
