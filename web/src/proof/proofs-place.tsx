import { Link } from 'react-router'
import { useProofs } from '../api/queries.js'
import { dateTime, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'

/** Every before and after that was measured. */
export function ProofsPlace() {
  const site = useSite()
  const proofs = useProofs(site.id)
  if (proofs.isPending) return <Loading what="the proofs" />
  if (proofs.isError) return <Failed error={proofs.error} retry={() => void proofs.refetch()} />
  if (proofs.data.length === 0)
    return (
      <Notice title="Nothing has been proven yet">
        When drafts go live, the pages they touch are read with and without them, in turn.{' '}
        <TwoSweeps siteId={site.id} />
      </Notice>
    )
  return (
    <div className="h-full overflow-auto">
      <PlaceHead title="Proof" action={<TwoSweeps siteId={site.id} />}>
        Before and after of each change, read in turn under the same lens.
      </PlaceHead>
      <ul>
        {proofs.data.map((proof) => (
          <li key={proof.id} className="border-b border-line/60">
            <Link
              to={`/sites/${site.id}/proof/${proof.id}`}
              className="flex items-baseline gap-4 px-4 py-2 hover:bg-sheet"
            >
              <span className="font-semibold text-verdigris">{proof.title}</span>
              <span className="text-soft">
                version {proof.fromVersion} against {proof.toVersion} · {plural(proof.sweep.pages, 'page')} ·{' '}
                {dateTime(proof.sweep.startedAt)}
              </span>
              <span className="ml-auto text-soft">
                {proof.sweep.status === 'running' ? 'being read' : proof.sweep.status}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </div>
  )
}

/** What no change of rules was behind is seen between two sweeps. */
const TwoSweeps = ({ siteId }: { siteId: number }) => (
  <Link
    to={`/sites/${siteId}/proof/two-sweeps`}
    className="shrink-0 border border-verdigris px-3 py-1 font-semibold text-verdigris hover:bg-wash"
  >
    Two sweeps side by side
  </Link>
)
