import clsx from 'clsx'
import { useId } from 'react'
import type { FieldError, UseFormRegisterReturn } from 'react-hook-form'

interface LinesProps {
  label: string
  hint?: string
  rows: number
  field: UseFormRegisterReturn
  error: FieldError | undefined
}

/** A text of several lines, with its label, and below it what to enter or what is wrong. */
export function Lines({ label, hint, rows, field, error }: LinesProps) {
  const id = useId()
  const [name, note] = [`${id}-name`, `${id}-note`]
  return (
    <label className="grid min-w-0 gap-1">
      <span id={name} className="font-semibold">
        {label}
      </span>
      <textarea
        {...field}
        rows={rows}
        spellCheck={false}
        aria-invalid={error !== undefined}
        aria-labelledby={name}
        aria-describedby={note}
        className={clsx('w-full border bg-sheet px-2.5 py-1.5 text-[15px]', error ? 'border-plum' : 'border-line')}
      />
      {(error ?? hint) && (
        <span
          id={note}
          role={error ? 'alert' : undefined}
          className={clsx('text-[13px]', error ? 'text-plum' : 'text-soft')}
        >
          {error?.message ?? hint}
        </span>
      )}
    </label>
  )
}
