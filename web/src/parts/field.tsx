import clsx from 'clsx'
import { useId } from 'react'
import type { FieldError, UseFormRegisterReturn } from 'react-hook-form'

interface FieldProps {
  label: string
  hint?: string
  field: UseFormRegisterReturn
  error: FieldError | undefined
  type?: string
  autoFocus?: boolean
}

/** A text field with its label, and below it what to enter or what is wrong. */
export function Field({ label, hint, field, error, type = 'text', autoFocus }: FieldProps) {
  // Two forms may be open beside each other, with fields of one name.
  const id = useId()
  const [name, note] = [`${id}-name`, `${id}-note`]
  return (
    <label className="grid min-w-0 content-start gap-1">
      <span id={name} className="font-semibold">
        {label}
      </span>
      <input
        {...field}
        type={type}
        autoFocus={autoFocus}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={error !== undefined}
        aria-labelledby={name}
        aria-describedby={note}
        className={clsx('h-9 w-full min-w-0 border bg-sheet px-2.5 text-[15px]', error ? 'border-plum' : 'border-line')}
      />
      <span
        id={note}
        role={error ? 'alert' : undefined}
        className={clsx('text-[13px]', error ? 'text-plum' : 'text-soft')}
      >
        {error?.message ?? hint}
      </span>
    </label>
  )
}
