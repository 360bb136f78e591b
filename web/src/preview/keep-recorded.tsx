import type { Page, PreviewDevice, Site, SiteStep } from '@unvelt/contract'
import { Failed, Loading } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { Window } from '../parts/window.js'
import { useChangeSteps, useSteps } from '../steps/queries.js'
import { StepForm } from '../steps/step-form.js'
import { StepTrialPart } from '../steps/step-trial-part.js'
import type { RecordedAction } from './use-recorded.js'

interface KeepRecordedProps {
  site: Site
  actions: RecordedAction[]
  /** The page that it was recorded on. */
  path: string
  device: PreviewDevice
  pages: Page[]
  onKept(): void
  onClose(): void
}

/** What was recorded, to be named, changed, tried and kept. */
export function KeepRecorded({ site, actions, path, device, pages, onKept, onClose }: KeepRecordedProps) {
  const steps = useSteps(site.id)
  const change = useChangeSteps(site.id)
  const recorded: SiteStep = {
    name: '',
    kind: pages.find((page) => page.path === path)?.kind ?? null,
    ...(actions.some(({ sends }) => sends) && { sends: true }),
    actions: actions.map(({ sends: _, ...action }) => action),
  }
  const keep = (step: SiteStep) =>
    change.mutate(
      { do: 'put', steps: [...(steps.data?.steps ?? []), step] },
      {
        onError: (error) => toast.error(error.message),
        onSuccess: () => {
          toast.success(`${step.name} is kept, and done at every rehearsal.`)
          onKept()
        },
      },
    )
  return (
    <Window title="Keep as a step" note={`Recorded on ${path}.`} width={920} onClose={onClose}>
      {steps.isPending && <Loading what="the steps" />}
      {steps.isError && <Failed error={steps.error} retry={() => void steps.refetch()} />}
      {steps.data && (
        <div className="max-h-[70dvh] overflow-auto">
          <StepForm
            step={recorded}
            taken={steps.data.steps.map(({ name }) => name)}
            kinds={[...new Set(pages.map(({ kind }) => kind))]}
            onSave={keep}
            onClose={onClose}
            trial={(step) => <StepTrialPart site={site} step={step} path={path} device={device} />}
          />
        </div>
      )}
    </Window>
  )
}
