import { X } from 'lucide-react'
import { useFieldArray, useFormContext } from 'react-hook-form'
import type { AccessView, AccessWish } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { Field } from '../parts/field.js'

/** What is not entered is not there, and a secret that is kept stays. */
const orNothing = { setValueAs: (value: string) => (value === '' ? undefined : value) }

/** A name with its password, and headers, by which a site that is closed to the public lets Unvelt in. */
export function AccessFields({ kept }: { kept: AccessView | null }) {
  const { register, control, formState } = useFormContext<{ access: AccessWish }>()
  const { fields, append, remove } = useFieldArray({ control, name: 'access.headers' })
  const errors = formState.errors.access
  const keptHeaders = new Set(kept?.headers.map((name) => name.toLowerCase()))
  return (
    <div className="grid gap-3">
      <div className="grid grid-cols-2 gap-4 max-md:grid-cols-1">
        <Field
          label="Name"
          hint="For HTTP Basic; none where only a header is asked for"
          field={register('access.user')}
          error={errors?.user}
        />
        <Field
          label="Password"
          hint={
            kept?.user ? 'Left empty, the one that is kept stays' : 'Kept sealed, and sent to the site’s own hosts only'
          }
          field={register('access.password', orNothing)}
          error={errors?.password}
          type="password"
        />
      </div>
      {fields.map((field, n) => (
        <div key={field.id} className="grid grid-cols-[1fr_1fr_auto] items-start gap-4 max-md:grid-cols-1">
          <Field
            label="Header"
            hint="As X-Let-In"
            field={register(`access.headers.${n}.name`)}
            error={errors?.headers?.[n]?.name}
          />
          <Field
            label="Value"
            hint={keptHeaders.has(field.name.toLowerCase()) ? 'Left empty, the one that is kept stays' : 'Kept sealed'}
            field={register(`access.headers.${n}.value`, orNothing)}
            error={errors?.headers?.[n]?.value}
            type="password"
          />
          <button
            type="button"
            aria-label={`Do without header ${n + 1}`}
            className="mt-7 p-1.5 text-soft hover:text-ink max-md:mt-0"
            onClick={() => remove(n)}
          >
            <X size={16} aria-hidden />
          </button>
        </div>
      ))}
      <div>
        <Button weight="quiet" disabled={fields.length >= 10} onClick={() => append({ name: '' })}>
          Add a header
        </Button>
      </div>
    </div>
  )
}
