import { Link } from 'react-router'
import { ChevronRight } from 'lucide-react'
import type { Deployment } from '@unvelt/contract'
import { useDeployments } from '../api/deployments.js'
import { dateTime } from '../figures/format.js'
import { endWords } from './deployment-words.js'

/** Every change of the live rules with what was done for it, those that came to nothing included. */
export function ChangesList({ siteId }: { siteId: number }) {
  const { data: changes = [] } = useDeployments(siteId)
  if (changes.length === 0) return null
  return (
    <>
      <h2 className="px-4 pt-6 pb-2 text-[17px]">Changes</h2>
      <ol aria-label="Changes of the live rules">
        {changes.map((change) => (
          <Change key={change.id} change={change} />
        ))}
      </ol>
    </>
  )
}

function Change({ change }: { change: Deployment }) {
  const { siteId, what, state, startedAt, proofId, netId, failure, steps } = change
  const isBad = state === 'failed' || state === 'taken-back'
  return (
    <li className="border-t border-line/60 px-4 py-1.5">
      <details className="group">
        <summary className="flex cursor-pointer list-none items-center gap-2">
          <ChevronRight size={14} aria-hidden className="shrink-0 text-verdigris group-open:rotate-90" />
          <span className="min-w-0 flex-1 truncate">{what}</span>
          <span className={isBad ? 'text-plum' : 'text-soft'}>{endWords(change)}</span>
          <span className="figures w-40 text-right text-[12.5px] text-soft">{dateTime(startedAt)}</span>
        </summary>
        <ol className="py-1 pl-5.5 text-[13.5px]">
          {steps.map(({ at, said }) => (
            <li key={at + said} className="text-soft">
              {said}
            </li>
          ))}
          {failure && <li className="text-plum">{failure}</li>}
          {netId !== null && (
            <li>
              <Link to={`/sites/${siteId}/rules/rehearsals/${netId}`} className="text-verdigris hover:underline">
                Its guards, as visitors see the pages
              </Link>
            </li>
          )}
          {proofId !== null && (
            <li>
              <Link to={`/sites/${siteId}/proof/${proofId}`} className="text-verdigris hover:underline">
                Before and after
              </Link>
            </li>
          )}
        </ol>
      </details>
    </li>
  )
}
