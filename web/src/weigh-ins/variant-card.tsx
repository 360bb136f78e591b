import { X } from 'lucide-react'
import { changeWords, variantName, type Change, type Names, type VariantDraft } from './variant-draft.js'
import { ChangeChoice } from './change-choice.js'

interface Props {
  n: number
  variant: VariantDraft
  names: Names
  problem: string | undefined
  onChange(variant: VariantDraft): void
  /** Missing where as few are left as there must be. */
  onRemove?: () => void
}

/** One variant: what it is called, and what is other in it. */
export function VariantCard({ n, variant, names, problem, onChange, onRemove }: Props) {
  const { changes } = variant
  const called = variantName({ ...variant, name: '' }, names)
  const without = (at: number) => onChange({ ...variant, changes: changes.filter((_, other) => other !== at) })
  return (
    <li aria-label={`Variant ${n + 1}`} className="border border-line bg-sheet px-3 py-2">
      <div className="flex items-start gap-3">
        <span className="figures w-5 pt-1.5 text-soft">{n + 1}</span>
        <div className="grid min-w-0 flex-1 gap-1.5">
          <div className="flex flex-wrap items-center gap-1.5">
            {changes.length === 0 && <span className="mr-1 text-soft">The page as it is</span>}
            {changes.map((change, at) => (
              <span
                key={JSON.stringify(change)}
                className="inline-flex items-center gap-1 border border-line bg-wash py-0.5 pr-1 pl-2"
              >
                {changeWords(change, names)}
                <button
                  type="button"
                  aria-label={`Not ${changeWords(change, names)}`}
                  onClick={() => without(at)}
                  className="inline-flex size-6 items-center justify-center text-soft hover:text-plum"
                >
                  <X size={14} aria-hidden />
                </button>
              </span>
            ))}
            <ChangeChoice
              names={names}
              chosen={changes}
              onChoose={(change) => onChange({ ...variant, changes: [...others(changes, change), change] })}
            />
          </div>
          <div className="flex gap-3">
            <label className="flex min-w-0 flex-1 items-center gap-2 text-[13px]">
              Called
              <input
                value={variant.name}
                placeholder={called}
                maxLength={100}
                onChange={(event) => onChange({ ...variant, name: event.target.value })}
                className="h-8 min-w-0 flex-1 border border-line bg-paper px-2"
              />
            </label>
            <label className="flex items-center gap-2 text-[13px]">
              Price a year
              <input
                value={variant.price}
                inputMode="decimal"
                onChange={(event) => onChange({ ...variant, price: event.target.value })}
                className="h-8 w-24 border border-line bg-paper px-2 text-right"
              />
            </label>
          </div>
          {problem && (
            <p role="alert" className="text-[13px] text-plum">
              {problem}
            </p>
          )}
        </div>
        {onRemove && (
          <button
            type="button"
            aria-label={`Without variant ${n + 1}`}
            onClick={onRemove}
            className="inline-flex size-7 items-center justify-center text-soft hover:text-plum"
          >
            <X size={16} aria-hidden />
          </button>
        )}
      </div>
    </li>
  )
}

/** An add-on can't be in two versions, nor there and not there; a setting has one value. */
const others = (changes: readonly Change[], chosen: Change): Change[] =>
  changes.filter((change) => {
    if (change.addon !== chosen.addon) return true
    const wholes = new Set(['without', 'version'])
    if (wholes.has(change.kind) || wholes.has(chosen.kind)) return false
    return !(change.kind === 'setting' && chosen.kind === 'setting' && change.setting === chosen.setting)
  })
