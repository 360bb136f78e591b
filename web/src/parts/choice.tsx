import type { UseFormRegisterReturn } from 'react-hook-form'

interface ChoiceProps {
  label: string
  field: UseFormRegisterReturn
  /** Value and name of each. */
  choices: [string, string][]
}

/** One of a few, by the browser's own list. */
export function Choice({ label, field, choices }: ChoiceProps) {
  return (
    <label className="grid min-w-0 content-start gap-1">
      <span className="font-semibold">{label}</span>
      <select {...field} className="h-9 w-full min-w-0 border border-line bg-sheet px-2 text-[15px]">
        {choices.map(([value, name]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </select>
    </label>
  )
}
