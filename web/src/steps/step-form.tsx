import { X } from 'lucide-react'
import { useFieldArray, useForm, useWatch } from 'react-hook-form'
import type { SiteStep } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { DOES, selectorProblem } from './step-words.js'

interface Values {
  name: string
  kind: string
  actions: { do: SiteStep['actions'][number]['do']; at: string; text: string }[]
}

interface Props {
  step: SiteStep
  /** Names that other steps have. */
  taken: readonly string[]
  kinds: readonly string[]
  onSave(step: SiteStep): void
  onClose(): void
}

/** Makes a step, or changes one. */
export function StepForm({ step, taken, kinds, onSave, onClose }: Props) {
  const form = useForm<Values>({
    defaultValues: {
      name: step.name,
      kind: step.kind ?? '',
      actions: step.actions.map(({ do: does, at = '', text = '' }) => ({ do: does, at, text })),
    },
  })
  const actions = useFieldArray({ control: form.control, name: 'actions' })
  const now = useWatch({ control: form.control, name: 'actions' })
  const { errors } = form.formState
  const save = form.handleSubmit(({ name, kind, actions }) =>
    onSave({
      name: name.trim(),
      kind: kind || null,
      actions: actions.map(({ do: does, at, text }) => ({
        do: does,
        ...(does !== 'scroll' && { at: at.trim() }),
        ...(does === 'type' && { text }),
      })),
    }),
  )
  return (
    <form
      noValidate
      aria-label={step.name === '' ? 'A new step' : `Change ${step.name}`}
      onSubmit={(event) => void save(event)}
      className="my-3 grid max-w-4xl gap-4 border border-line bg-sheet p-4"
    >
      <div className="grid grid-cols-2 gap-4">
        <Field
          label="Name"
          hint="For instance: open the menu"
          autoFocus
          error={errors.name}
          field={form.register('name', {
            required: 'Give the step a name.',
            maxLength: { value: 60, message: 'At most 60 characters.' },
            validate: (name) => !taken.includes(name.trim()) || 'There is a step called that already.',
          })}
        />
        <Choice
          label="On pages of kind"
          field={form.register('kind')}
          choices={[['', 'every kind'], ...kinds.map((kind): [string, string] => [kind, kind])]}
        />
      </div>
      <fieldset className="grid gap-3">
        <legend className="mb-1 font-semibold">What is done, one after the other</legend>
        {actions.fields.map(({ id }, n) => {
          const does = now[n]?.do ?? 'click'
          return (
            <div key={id} className="grid grid-cols-[160px_minmax(0,1fr)_minmax(0,1fr)_32px] gap-3">
              <Choice label={`Action ${n + 1}`} field={form.register(`actions.${n}.do`)} choices={DOES} />
              {does === 'scroll' ? (
                <span />
              ) : (
                <Field
                  label="On"
                  hint="A CSS selector; the first in sight is meant"
                  error={errors.actions?.[n]?.at}
                  field={form.register(`actions.${n}.at`, { validate: selectorProblem, shouldUnregister: true })}
                />
              )}
              {does === 'type' ? (
                <Field
                  label="Text"
                  error={errors.actions?.[n]?.text}
                  field={form.register(`actions.${n}.text`, { required: 'Say what is typed.', shouldUnregister: true })}
                />
              ) : (
                <span />
              )}
              <button
                type="button"
                aria-label={`Remove action ${n + 1}`}
                disabled={actions.fields.length === 1}
                onClick={() => actions.remove(n)}
                className="mt-7 flex h-9 items-center justify-center text-soft hover:text-ink disabled:opacity-40"
              >
                <X size={16} />
              </button>
            </div>
          )
        })}
        <div>
          <Button weight="quiet" onClick={() => actions.append({ do: 'click', at: '', text: '' })}>
            One more action
          </Button>
        </div>
      </fieldset>
      <p className="text-[13px] text-soft">
        It is really done on the live site, signed out, at each sweep: nothing here should send a form or buy anything.
      </p>
      <div className="flex gap-2">
        <Button weight="main" type="submit">
          Save the step
        </Button>
        <Button weight="quiet" onClick={onClose}>
          Back
        </Button>
      </div>
    </form>
  )
}
