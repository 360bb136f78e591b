import { ToggleGroup } from 'radix-ui'
import { MEASURES, type Measure } from '@unvelt/contract'
import { MEASURE_WORDS } from '../figures/format.js'

/** Chooses what the cells show. */
export function MeasurePicker({ measure, onChange }: { measure: Measure; onChange(measure: Measure): void }) {
  return (
    <ToggleGroup.Root
      type="single"
      value={measure}
      aria-label="Measure"
      onValueChange={(value) => value && onChange(value as Measure)}
      className="flex gap-4"
    >
      {MEASURES.map((name) => (
        <ToggleGroup.Item
          key={name}
          value={name}
          className="border-b-2 border-transparent py-1.5 text-soft hover:text-ink data-[state=on]:border-verdigris data-[state=on]:font-semibold data-[state=on]:text-ink"
        >
          {MEASURE_WORDS[name].name}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  )
}
