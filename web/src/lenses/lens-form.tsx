import { useForm, useWatch } from 'react-hook-form'
import { toast } from 'sonner'
import type { Lens, LensInput, Site } from '@unvelt/contract'
import { useChangeLenses } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { Choice } from '../parts/choice.js'
import { Field } from '../parts/field.js'
import { inputOf, NETWORK_CHOICES, valuesOf, type LensValues } from './lens-values.js'

interface LensFormProps {
  site: Site
  /** What the form begins with. */
  lens: Lens
  /** Whether that lens is changed, rather than a new one made after it. */
  change?: boolean
  onClose(): void
}

/** Makes a lens, or changes one. */
export function LensForm({ site, lens, change = false, onClose }: LensFormProps) {
  const form = useForm<LensValues>({ defaultValues: valuesOf(lens, change) })
  const lenses = useChangeLenses(site.id)
  const { errors } = form.formState
  const visitor = useWatch({ control: form.control, name: 'visitor' })
  const save = form.handleSubmit((values) => {
    const input: LensInput = inputOf(values)
    lenses.mutate(change ? { do: 'change', id: lens.id, lens: input } : { do: 'add', lens: input }, {
      onError: (error) => form.setError('root', { message: error.message }),
      onSuccess: () => {
        toast(change ? `${input.name} is changed.` : `${input.name} is added.`)
        onClose()
      },
    })
  })
  const whole = { valueAsNumber: true, required: 'Enter a number.' } as const
  return (
    <form
      noValidate
      onSubmit={(event) => void save(event)}
      aria-label={change ? `Change ${lens.name}` : 'A new lens'}
      className="my-3 grid max-w-4xl gap-4 border border-line bg-sheet p-4"
    >
      <Field
        label="Name"
        field={form.register('name', { required: 'Give the lens a name.' })}
        error={errors.name}
        autoFocus
      />
      <div className="grid grid-cols-4 gap-4">
        <Choice
          label="Device"
          field={form.register('phone')}
          choices={[
            ['desk', 'Desk'],
            ['phone', 'Phone'],
          ]}
        />
        <Field
          label="Width, px"
          type="number"
          field={form.register('width', { ...whole, min: { value: 240, message: 'At least 240.' } })}
          error={errors.width}
        />
        <Field
          label="Height, px"
          type="number"
          field={form.register('height', { ...whole, min: { value: 240, message: 'At least 240.' } })}
          error={errors.height}
        />
        <Field
          label="Processor slowed"
          hint="times; 1 is not at all"
          type="number"
          field={form.register('cpu', {
            ...whole,
            min: { value: 1, message: 'At least 1.' },
            max: { value: 20, message: 'At most 20.' },
          })}
          error={errors.cpu}
        />
      </div>
      <div className="grid grid-cols-2 gap-4">
        <Choice
          label="Network"
          field={form.register('network')}
          choices={NETWORK_CHOICES.map(({ key, name }) => [key, name])}
        />
        <Choice
          label="Cache"
          field={form.register('cache')}
          choices={[
            ['cold', 'Cold: never been here'],
            ['warm', 'Warm: a second view'],
          ]}
        />
      </div>
      <div className="grid grid-cols-2 gap-4">
        <Choice
          label="Visitor"
          field={form.register('visitor')}
          choices={[
            ['signed-out', 'Signed out'],
            ['cookie', 'Signed in by a cookie'],
            ['form', 'Signed in by the site’s form'],
          ]}
        />
        {visitor !== 'signed-out' && (
          <Field label="As" hint="For instance member or editor" field={form.register('role')} error={errors.role} />
        )}
      </div>
      {visitor === 'cookie' && (
        <Field
          label="Cookie"
          hint="name=value; it is kept sealed and never shown again"
          type="password"
          field={form.register('cookie', { required: 'Enter the cookie.' })}
          error={errors.cookie}
        />
      )}
      {visitor === 'form' && (
        <div className="grid grid-cols-2 gap-4">
          <Field
            label="The form is sent to"
            hint="For instance /sign-in"
            field={form.register('path', { required: 'Enter the path.' })}
            error={errors.path}
          />
          <Field
            label="Its fields"
            hint="name=editor&word=…; kept sealed and never shown again"
            type="password"
            field={form.register('fields', { required: 'Enter the fields.' })}
            error={errors.fields}
          />
        </div>
      )}
      {errors.root && (
        <p role="alert" className="text-plum">
          {errors.root.message}
        </p>
      )}
      <div className="flex gap-2">
        <Button type="submit" weight="main" disabled={lenses.isPending}>
          {change ? 'Change the lens' : 'Add the lens'}
        </Button>
        <Button weight="quiet" onClick={onClose}>
          Never mind
        </Button>
      </div>
    </form>
  )
}
