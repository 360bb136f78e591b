import { Link } from 'react-router'
import { useRehearsals } from '../api/rehearsals.js'
import { useRetire } from '../api/retirements.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { rehearsalWords } from '../rehearsal/rehearsal-words.js'
import type { StepProps } from './step-list.js'

/** The pages tried without it, no visitor seeing it. */
export function RehearsalStep({ siteId, sheet, isNow }: StepProps) {
  const retire = useRetire(siteId)
  const { data: rehearsals = [] } = useRehearsals(siteId)
  const rehearsal = rehearsals.find(({ id }) => id === sheet.rehearsalId)
  const isRunning = rehearsal?.state === 'running'
  return (
    <>
      {rehearsal && (
        <p>
          <Link to={`/sites/${siteId}/rules/rehearsals/${rehearsal.id}`} className="text-verdigris hover:underline">
            Rehearsed
          </Link>
          : {rehearsalWords(rehearsal)}
          {rehearsal.failing > 0 && !isRunning && (
            <span className="text-soft"> – look at what is missed, and accept what is meant to go.</span>
          )}
        </p>
      )}
      {sheet.isInstalled && sheet.isActive && sheet.finishedAt === null && (
        <Button
          className="mt-1"
          weight={isNow && !rehearsal ? 'main' : 'quiet'}
          disabled={retire.isPending || isRunning || sheet.state !== 'open'}
          onClick={() =>
            retire.mutate({ id: sheet.id, rehearse: true }, { onError: (error) => toast.error(error.message) })
          }
        >
          {isRunning ? 'Under way …' : rehearsal ? 'Rehearse again' : 'Rehearse without it'}
        </Button>
      )}
    </>
  )
}
