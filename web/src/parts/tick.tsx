import clsx from 'clsx'
import type { FieldError, UseFormRegisterReturn } from 'react-hook-form'

interface TickProps {
  label: string
  hint: string
  field: UseFormRegisterReturn
  error?: FieldError | undefined
}

/** A yes or no, with what it means below it or what is wrong. */
export function Tick({ label, hint, field, error }: TickProps) {
  const name = `${field.name}-name`
  const note = `${field.name}-note`
  return (
    <label className="grid grid-cols-[auto_1fr] items-start gap-x-2.5">
      <input
        {...field}
        type="checkbox"
        aria-invalid={error !== undefined}
        aria-labelledby={name}
        aria-describedby={note}
        className="mt-1"
      />
      <span id={name} className="font-semibold">
        {label}
      </span>
      <span
        id={note}
        role={error ? 'alert' : undefined}
        className={clsx('col-start-2 text-[13px]', error ? 'text-plum' : 'text-soft')}
      >
        {error?.message ?? hint}
      </span>
    </label>
  )
}
