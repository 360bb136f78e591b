import { useId } from 'react'
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
  // Two forms may be open beside each other, with fields of one name.
  const id = useId()
  const [name, note] = [`${id}-name`, `${id}-note`]
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
