/** How alike a picture that is made anew must stay to the one that it is made from. */
export function Likeness({ value, onChange }: { value: number; onChange(value: number): void }) {
  return (
    <label className="grid gap-1">
      <span className="font-semibold">Likeness, at least</span>
      <span className="flex items-center gap-2">
        <input
          type="range"
          min={0.9}
          max={0.995}
          step={0.005}
          value={value}
          onChange={({ target }) => onChange(Number(target.value))}
          className="w-40 accent-verdigris"
        />
        <output className="figures w-14">{value.toFixed(3)}</output>
      </span>
    </label>
  )
}
