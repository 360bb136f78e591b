import clsx from 'clsx'
import { X } from 'lucide-react'
import type { ReactNode } from 'react'
import { useFieldArray, useForm, useWatch } from 'react-hook-form'
import type { SiteStep } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { Tick } from '../parts/tick.js'
import { DOES, selectorProblem } from './step-words.js'

interface Values {
  name: string
  kind: string
  sends: boolean
  actions: { do: SiteStep['actions'][number]['do']; at: string; text: string; attribute: string }[]
}

interface Props {
  step: SiteStep
  /** Names that other steps have. */
  taken: readonly string[]
  kinds: readonly string[]
  onSave(step: SiteStep): void
  onClose(): void
  /** Stands before the buttons, with the step as it is written now. */
  trial?: (step: SiteStep) => ReactNode
}

const TEXTS: Partial<Record<Values['actions'][number]['do'], { label: string; hint: string }>> = {
  type: { label: 'Text', hint: '' },
  choose: { label: 'Entry', hint: 'As it stands in the list' },
  expect: { label: 'With the text', hint: 'Empty: that it is seen is enough' },
}

/** What is written, as a step. */
const stepOf = ({ name = '', kind, sends, actions }: Values): SiteStep => ({
  name: name.trim(),
  kind: kind || null,
  ...(sends && { sends }),
  actions: actions.map(({ do: does, at = '', text = '', attribute = '' }) => ({
    do: does,
    ...(does !== 'scroll' && { at: at.trim() }),
    ...(does in TEXTS && !(does === 'expect' && text === '') && { text }),
    ...(does === 'expect' && attribute.trim() !== '' && { attribute: attribute.trim() }),
  })),
})

/** Makes a step, or changes one. */
export function StepForm({ step, taken, kinds, onSave, onClose, trial }: Props) {
  const form = useForm<Values>({
    defaultValues: {
      name: step.name,
      kind: step.kind ?? '',
      sends: step.sends ?? false,
      actions: step.actions.map(({ do: does, at = '', text = '', attribute = '' }) => ({
        do: does,
        at,
        text,
        attribute,
      })),
    },
  })
  const actions = useFieldArray({ control: form.control, name: 'actions' })
  const written = useWatch({ control: form.control }) as Values
  const now = written.actions
  const { errors } = form.formState
  const save = form.handleSubmit((values) => onSave(stepOf(values)))
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
            <div
              key={id}
              className={clsx(
                'grid gap-3',
                does === 'expect'
                  ? 'grid-cols-[160px_minmax(0,1fr)_minmax(0,0.55fr)_minmax(0,0.8fr)_32px]'
                  : 'grid-cols-[160px_minmax(0,1fr)_minmax(0,1fr)_32px]',
              )}
            >
              <Choice label={`Action ${n + 1}`} field={form.register(`actions.${n}.do`)} choices={DOES} />
              {does === 'scroll' ? (
                <span />
              ) : (
                <Field
                  label="On"
                  {...(n === 0 && { hint: 'A CSS selector, or role=button[name="Send"]' })}
                  error={errors.actions?.[n]?.at}
                  field={form.register(`actions.${n}.at`, { validate: selectorProblem, shouldUnregister: true })}
                />
              )}
              {does === 'expect' && (
                <Field
                  label="In attribute"
                  hint="Empty: in its text"
                  error={errors.actions?.[n]?.attribute}
                  field={form.register(`actions.${n}.attribute`, {
                    validate: (name) =>
                      name === undefined ||
                      name.trim() === '' ||
                      /^[A-Za-z_][\w:.-]{0,99}$/.test(name.trim()) ||
                      'No attribute is called so.',
                    shouldUnregister: true,
                  })}
                />
              )}
              {does in TEXTS ? (
                <Field
                  label={does === 'expect' && now[n]?.attribute ? 'Which says' : TEXTS[does]!.label}
                  hint={does === 'expect' && now[n]?.attribute ? 'Empty: whatever it says' : TEXTS[does]!.hint}
                  error={errors.actions?.[n]?.text}
                  field={form.register(`actions.${n}.text`, {
                    required: does === 'expect' ? false : 'Say what it is.',
                    shouldUnregister: true,
                  })}
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
          <Button weight="quiet" onClick={() => actions.append({ do: 'click', at: '', text: '', attribute: '' })}>
            One more action
          </Button>
        </div>
      </fieldset>
      <Tick
        label="It sends a form"
        hint="Then it is taken in rehearsals only. A site with trials takes back what was sent; any other one really gets it."
        field={form.register('sends')}
      />
      {!written.sends && (
        <p className="text-[13px] text-soft">
          It is really done on the live site, signed out, at each sweep: nothing here should send a form or buy
          anything.
        </p>
      )}
      {trial?.(stepOf(written))}
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
