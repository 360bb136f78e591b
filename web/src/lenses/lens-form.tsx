import { useForm, useWatch } from 'react-hook-form'
import type { Lens, LensInput, Site } from '@unvelt/contract'
import { useChangeLenses } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { Field } from '../parts/field.js'
import { toast } from '../parts/toast.js'
import { ConsentFields } from './consent-fields.js'
import { LensLookPart } from './lens-look-part.js'
import { inputOf, valuesOf, type LensValues } from './lens-values.js'
import { SignInPart } from './sign-in-part.js'

interface LensFormProps {
  site: Site
  /** What the form begins with. */
  lens: Lens
  /** Whether that lens is changed, rather than a new one made after it. */
  change?: boolean
  onClose(): void
}

/** Makes a lens, or changes one. Of a lens that sweeps were made through, only what signs its visitor in is renewed. */
export function LensForm({ site, lens, change = false, onClose }: LensFormProps) {
  const form = useForm<LensValues>({ defaultValues: valuesOf(lens, change) })
  const lenses = useChangeLenses(site.id)
  const { errors } = form.formState
  const visitor = useWatch({ control: form.control, name: 'visitor' })
  // What signs in is never handed out, but stays where nothing new is entered.
  const keeps = change && lens.visitor === visitor
  const renews = change && lens.sweeps > 0
  const save = form.handleSubmit((values) => {
    const input: LensInput = inputOf(values)
    lenses.mutate(change ? { do: 'change', id: lens.id, lens: input } : { do: 'add', lens: input }, {
      onError: (error) => form.setError('root', { message: error.message }),
      onSuccess: () => {
        toast(
          renews
            ? `What signs in for ${input.name} is renewed.`
            : change
              ? `${input.name} is changed.`
              : `${input.name} is added.`,
        )
        onClose()
      },
    })
  })
  return (
    <form
      noValidate
      onSubmit={(event) => void save(event)}
      aria-label={change ? `Change ${lens.name}` : 'A new lens'}
      className="my-3 grid max-w-4xl gap-4 border border-line bg-sheet p-4"
    >
      {!renews && <LensLookPart form={form} />}
      {!renews && <ConsentFields form={form} />}
      {visitor === 'cookie' && (
        <Field
          label="Cookie"
          hint={`name=value; ${keeps ? 'leave it empty to keep what is there' : 'it is kept sealed and never shown again'}`}
          type="password"
          field={form.register('cookie', { required: !keeps && 'Enter the cookie.' })}
          error={errors.cookie}
        />
      )}
      {visitor === 'form' && <SignInPart site={site} form={form} keptBy={keeps ? lens.id : undefined} />}
      {errors.root && (
        <p role="alert" className="text-plum">
          {errors.root.message}
        </p>
      )}
      <div className="flex gap-2">
        <Button type="submit" weight="main" disabled={lenses.isPending}>
          {renews ? 'Renew the sign-in' : change ? 'Change the lens' : 'Add the lens'}
        </Button>
        <Button weight="quiet" onClick={onClose}>
          Never mind
        </Button>
      </div>
    </form>
  )
}
