import { useState } from 'react'
import type { Site, SiteStep } from '@unvelt/contract'
import { usePages } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { chooseFile } from '../parts/choose-file.js'
import { lazily } from '../parts/lazily.js'
import { Failed } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { didThis } from '../undo/undo.js'
import { useChangeSteps, useSteps } from './queries.js'
import { StepIdeasPart } from './step-ideas.js'
import { saveRecording } from './save-recording.js'
import { actionWords } from './step-words.js'

const StepForm = lazily(async () => (await import('./step-form.js')).StepForm)

const NEW: SiteStep = { name: '', kind: null, actions: [{ do: 'click', at: '' }] }

/** What a sweep does on pages once their timing is over. */
export function StepList({ site }: { site: Site }) {
  const steps = useSteps(site.id)
  const change = useChangeSteps(site.id)
  const { data: pages = [] } = usePages(site.id)
  /** The place of the step that is changed; one beyond the last is a new one. */
  const [open, setOpen] = useState<number | null>(null)
  if (steps.isError) return <Failed error={steps.error} retry={() => void steps.refetch()} />
  if (!steps.data) return null
  const { steps: list, standard } = steps.data
  const kinds = [...new Set(pages.map(({ kind }) => kind))]

  const putBack = () =>
    standard ? change.mutateAsync({ do: 'forget' }) : change.mutateAsync({ do: 'put', steps: list })
  const saidWrong = (error: Error) => toast.error(error.message)
  const put = (next: SiteStep[], said: string) =>
    change.mutate(
      { do: 'put', steps: next },
      {
        onError: saidWrong,
        onSuccess: () => {
          setOpen(null)
          didThis(said, putBack)
        },
      },
    )
  const takeIn = async (file: File) => {
    let recording: unknown
    try {
      recording = JSON.parse(await file.text())
    } catch (error) {
      toast.error(`${file.name} is not JSON: ${(error as Error).message}`)
      return
    }
    change.mutate(
      { do: 'take in', recording: { recording: recording as Record<string, unknown> } },
      {
        onError: saidWrong,
        onSuccess: (now) => {
          const taken = now.steps.at(-1)!
          didThis(`${taken.name} is taken in, with ${plural(taken.actions.length, 'action')}.`, putBack)
        },
      },
    )
  }
  return (
    <section className="px-4 pt-6" aria-label="Steps">
      <div className="flex items-start justify-between gap-6">
        <div>
          <h2 className="text-[17px]">Steps</h2>
          <p className="max-w-3xl text-soft">
            What visitors do on a page. The first repeat of a sweep does it once the timing is over, and keeps apart
            what it brings and which idle bytes turn out to be needed.
          </p>
        </div>
        <div className="flex shrink-0 gap-2">
          {!standard && (
            <Button
              weight="quiet"
              disabled={change.isPending}
              onClick={() =>
                change.mutate(
                  { do: 'forget' },
                  { onError: saidWrong, onSuccess: () => didThis('The standard steps are back.', putBack) },
                )
              }
            >
              Back to the standard ones
            </Button>
          )}
          <Button onClick={() => chooseFile('.json,application/json', (file) => void takeIn(file))}>
            Take a recording in …
          </Button>
          <Button onClick={() => setOpen(list.length)}>A new step …</Button>
        </div>
      </div>
      <ol className="mt-3 border-t border-line">
        {list.map((step, n) =>
          open === n ? (
            <li key={step.name}>
              <StepForm
                step={step}
                kinds={kinds}
                taken={list.filter((other) => other !== step).map(({ name }) => name)}
                onSave={(next) => put(list.with(n, next), `${next.name} is changed.`)}
                onClose={() => setOpen(null)}
              />
            </li>
          ) : (
            <li key={step.name} className="flex items-baseline gap-4 border-b border-line/60 py-1">
              <span className="w-44 shrink-0 font-semibold">{step.name}</span>
              <span className="w-32 shrink-0 text-soft">{step.kind ? `on ${step.kind}` : 'on every kind'}</span>
              <ol className="min-w-0 flex-1 text-[13px]">
                {step.actions.map((action, at) => (
                  <li key={at} className="truncate" title={actionWords(action)}>
                    {actionWords(action)}
                  </li>
                ))}
              </ol>
              <Button
                weight="quiet"
                aria-label={`Save ${step.name} as a recording`}
                title="As browsers’ developer tools save a recording, to be played there"
                onClick={() => saveRecording(site, pages, step)}
              >
                Save
              </Button>
              <Button weight="quiet" aria-label={`Change ${step.name}`} onClick={() => setOpen(n)}>
                Change
              </Button>
              <Button
                weight="quiet"
                aria-label={`Remove ${step.name}`}
                disabled={change.isPending}
                onClick={() =>
                  put(
                    list.filter((other) => other !== step),
                    `${step.name} is removed.`,
                  )
                }
              >
                Remove
              </Button>
            </li>
          ),
        )}
        {list.length === 0 && <li className="py-2 text-soft">None: only what a page does by itself is noted.</li>}
      </ol>
      {open === list.length && (
        <StepForm
          step={NEW}
          kinds={kinds}
          taken={list.map(({ name }) => name)}
          onSave={(step) => put([...list, step], `${step.name} is added.`)}
          onClose={() => setOpen(null)}
        />
      )}
      <StepIdeasPart
        siteId={site.id}
        list={list}
        isBusy={change.isPending}
        onAdd={(steps) =>
          put(
            [...list, ...steps],
            steps.length === 1 ? `${steps[0]!.name} is added.` : `${steps.length} steps are added.`,
          )
        }
      />
    </section>
  )
}
