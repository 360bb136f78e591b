import { useNavigate } from 'react-router'
import type { Rehearsal } from '@unvelt/contract'
import { toast } from '../parts/toast.js'
import { isBad, rehearsalWords } from './rehearsal-words.js'

/** Says that a rehearsal is over, and leads to it. */
export function useSayRehearsalEnded(): (rehearsal: Rehearsal) => void {
  const navigate = useNavigate()
  return (rehearsal) => {
    // A search for what works begins with one, and goes on behind it.
    if (rehearsal.state === 'stopped' || rehearsal.effectOf !== null) return
    const say = isBad(rehearsal) ? toast.warning : toast.success
    say(rehearsal.deploymentId === null && !rehearsal.round ? 'Rehearsed' : 'Guards played on what is live', {
      description: `${rehearsal.what}: ${rehearsalWords(rehearsal)}.`,
      action: {
        label: 'Look at it',
        onClick: () => void navigate(`/sites/${rehearsal.siteId}/rules/rehearsals/${rehearsal.id}`),
      },
    })
  }
}
