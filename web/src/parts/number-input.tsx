interface NumberInputProps {
  value: number
  least: number
  most: number
  onChange(value: number): void
  label?: string
}

/** A whole number within bounds; what is out of them is for the form to refuse. */
export function NumberInput({ value, least, most, onChange, label }: NumberInputProps) {
  return (
    <input
      type="number"
      aria-label={label}
      min={least}
      max={most}
      value={value}
      onChange={(event) => onChange(Math.round(Number(event.target.value)))}
      className="figures h-8 w-16 border border-line bg-paper px-2"
    />
  )
}
