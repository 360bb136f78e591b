import type { Site } from '@unvelt/contract'
import { useSweeps } from '../api/queries.js'

/** Why a sweep stands still though nobody wished so. The strip's buttons end it or let it go on. */
export function SweepTrouble({ site }: { site: Site }) {
  const { data: sweeps = [] } = useSweeps(site.id)
  const stuck = sweeps.find(({ status, why }) => why !== null && (status === 'running' || status === 'paused'))
  if (!stuck) return null
  return (
    <p role="status" className="border-t-2 border-plum bg-sheet px-4 py-2">
      <b className="font-semibold text-plum">Sweep {stuck.id} stands still.</b> {stuck.why}
      {stuck.status === 'paused' && ' Once that is mended, it can be resumed; what was read stays.'}
    </p>
  )
}
