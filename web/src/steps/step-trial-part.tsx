import { useState } from 'react'
import type { PreviewDevice, Site, SiteStep, StepTrial } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { useStepTrial, useTrySteps } from './queries.js'

interface StepTrialPartProps {
  site: Site
  step: SiteStep
  path: string
  device: PreviewDevice
}

/** Has a step played twice on the live page, to see whether it works before anything rests on it. */
export function StepTrialPart({ site, step, path, device }: StepTrialPartProps) {
  const start = useTrySteps(site.id)
  const [asked, setAsked] = useState<number | null>(null)
  const trial = useStepTrial(site.id, asked)
  const isWaiting = start.isPending || trial?.state === 'waiting'
  const begin = () =>
    start.mutate(
      { path, device, steps: [{ ...step, name: step.name || 'recorded' }] },
      { onError: (error) => toast.error(error.message), onSuccess: ({ id }) => setAsked(id) },
    )
  return (
    <div className="flex items-center gap-3">
      <Button disabled={isWaiting} onClick={begin}>
        {isWaiting ? 'Playing …' : 'Play it twice'}
      </Button>
      <p role="status" className={trial && hasFailed(trial) ? 'text-plum' : 'text-soft'}>
        {trial ? trialWords(trial) : `On ${path} as it is live, without drafts.`}
      </p>
    </div>
  )
}

const went = ({ taken }: StepTrial) => taken.flat().filter(({ outcome }) => outcome === 'done').length
const hasFailed = (trial: StepTrial) => trial.state === 'done' && (trial.failure !== null || went(trial) < trial.times)

function trialWords(trial: StepTrial): string {
  const { state, failure, taken, times } = trial
  if (failure !== null) return failure
  if (state === 'waiting')
    return taken.length === 0 ? 'The page is opened.' : `Once done, ${times - taken.length} to go.`
  if (went(trial) === times) return times === 2 ? 'It went through both times.' : `It went through ${times} times.`
  const failed = taken.flat().find(({ outcome }) => outcome !== 'done')
  const why = failed?.why ?? (failed ? 'what it is for is not there' : 'the steps could not be taken')
  return went(trial) === 0
    ? `It does not go through: ${why}.`
    : `It went through only ${went(trial)} of ${times} times: ${why}.`
}
