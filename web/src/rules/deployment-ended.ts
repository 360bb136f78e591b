import { useNavigate } from 'react-router'
import type { Deployment } from '@unvelt/contract'
import { toast } from '../parts/toast.js'

const SHOWN_MS = 12_000

/** Says how a change of the live rules ended, wherever its maintainer is by then. */
export function useSayDeploymentEnded(): (deployment: Deployment) => void {
  const navigate = useNavigate()
  return ({ siteId, state, kind, what, toVersion, proofId, netId, failure, steps }) => {
    if (state === 'live') {
      const back = kind === 'take-back' ? 'Taken back; version' : 'Version'
      toast.success(`${back} ${toVersion} is live`, {
        description: steps.map(({ said }) => said).join(' '),
        duration: SHOWN_MS,
        ...(proofId !== null && {
          action: {
            label: 'Before and after',
            onClick: () => void navigate(`/sites/${siteId}/proof/${proofId}`),
          },
        }),
      })
    } else
      toast.error(state === 'taken-back' ? `${what}: taken back` : 'Nothing was put live', {
        description: failure,
        duration: SHOWN_MS,
        action:
          netId === null
            ? { label: 'Rules', onClick: () => void navigate(`/sites/${siteId}/rules`) }
            : {
                label: 'What broke',
                onClick: () => void navigate(`/sites/${siteId}/rules/rehearsals/${netId}`),
              },
      })
  }
}
