import { Link } from 'react-router'
import type { ProofSummary } from '@unvelt/contract'
import { useProofs } from '../api/queries.js'
import { dateTime, plural, signed } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { measureWords } from './proof-words.js'

/** What most people ask for first; the rest stands in each proof. */
const SHOWN = ['requests', 'transferBytes', 'mainThreadMs', 'loadMs']

function differenceWords({ gain }: ProofSummary, measure: string) {
  const difference = gain?.differences[measure]
  if (difference === undefined) return '–'
  const text = signed(difference, measure === 'requests' ? (value) => value.toFixed(1) : measureWords(measure).long)
  if (!/^[+−]/.test(text)) return <span className="text-soft">·</span>
  if (gain!.sure.includes(measure)) return <span className="font-semibold">{text}</span>
  return (
    <span className="text-soft" title={`${text}, which may be chance or is too small to matter`}>
      none to speak of
    </span>
  )
}

/** How many figures of its pages are better or worse by more than chance. */
function gainWords({ sweep, gain }: ProofSummary): string {
  if (sweep.status === 'running') return 'being read'
  if (!gain) return sweep.status === 'done' ? 'nothing was read' : sweep.status
  if (gain.better + gain.worse === 0) return 'nothing that can be measured'
  return [
    gain.better > 0 && `${plural(gain.better, 'figure')} better`,
    gain.worse > 0 && `${gain.better > 0 ? gain.worse : plural(gain.worse, 'figure')} worse`,
  ]
    .filter(Boolean)
    .join(', ')
}

/** Every before and after that was measured. */
export function ProofsPlace() {
  const site = useSite()
  const proofs = useProofs(site.id)
  if (proofs.isPending) return <Loading what="the proofs" />
  if (proofs.isError) return <Failed error={proofs.error} retry={() => void proofs.refetch()} />
  if (proofs.data.length === 0)
    return (
      <Notice title="Nothing has been proven yet" action={<TwoSweeps siteId={site.id} />}>
        When drafts go live, the pages they touch are read with and without them, in turn.
      </Notice>
    )
  return (
    <div className="h-full overflow-auto">
      <PlaceHead title="Proof" action={<TwoSweeps siteId={site.id} />}>
        Before and after of each change, read in turn under the same lens.
      </PlaceHead>
      <table aria-label="All proofs" className="figures w-full">
        <thead>
          <tr className="border-b border-line text-left text-[12.5px] text-soft">
            <th className="py-1 pl-4 font-normal">Change</th>
            {SHOWN.map((measure) => (
              <th key={measure} className="py-1 pl-3 text-right font-normal max-md:hidden">
                {measureWords(measure).name} a page
              </th>
            ))}
            <th className="py-1 pr-4 pl-6 font-normal">Comes to</th>
          </tr>
        </thead>
        <tbody>
          {proofs.data.map((proof) => (
            <tr key={proof.id} className="border-b border-line/60 hover:bg-sheet">
              <td className="py-2 pl-4">
                <Link
                  to={`/sites/${site.id}/proof/${proof.id}`}
                  className="font-semibold text-verdigris hover:underline"
                >
                  {proof.title}
                </Link>
                <span className="block text-[13px] text-soft">
                  version {proof.fromVersion} against {proof.toVersion} · {plural(proof.sweep.pages, 'page')} ·{' '}
                  {dateTime(proof.sweep.startedAt)}
                </span>
              </td>
              {SHOWN.map((measure) => (
                <td key={measure} className="py-2 pl-3 text-right whitespace-nowrap max-md:hidden">
                  {differenceWords(proof, measure)}
                </td>
              ))}
              <td className="py-2 pr-4 pl-6 text-soft">{gainWords(proof)}</td>
            </tr>
          ))}
        </tbody>
      </table>
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
