import { X } from 'lucide-react'
import type { RuleView, Site } from '@unvelt/contract'
import { useAddOns, useChangeDrafts } from '../api/queries.js'
import { toast } from '../parts/toast.js'
import { holdCost } from './hold-costs.js'
import { choiceKey, conditionWords, doingWords, effectChoices, effectWords, placeWords, subjectWords } from './words.js'

/** What a feature's switch can be, or what the site can do to the whole add-on. */
const canBe = (effect: string, { feature, file }: RuleView, canSkip: boolean) =>
  feature !== undefined
    ? ['skip', 'leave-out', 'keep'].includes(effect)
    : effect !== 'skip' || (canSkip && file === undefined)

/** Drafts, each to be changed or withdrawn. */
export function DraftList({ site, rules }: { site: Site; rules: RuleView[] }) {
  const change = useChangeDrafts(site.id)
  const { data: addOns = [] } = useAddOns(site.id)
  const onError = (error: Error) => toast.error(error.message)
  return (
    <ul>
      {rules.map((rule) => {
        const canSkip = addOns.find((addOn) => addOn.slug === rule.addon)?.canSkip ?? false
        const choices =
          rule.effect === 'set' ? [rule] : effectChoices(site.effects.filter((effect) => canBe(effect, rule, canSkip)))
        const cost = rule.removed
          ? null
          : holdCost(
              rule.effect,
              addOns.find(({ slug }) => slug === rule.addon),
              null,
            )
        return (
          <li key={rule.id} className="flex items-center gap-3 border-b border-line/60 py-1 last:border-0">
            <span className="min-w-0 flex-1 truncate">
              <b className="font-semibold">{subjectWords(rule)}</b>{' '}
              {[placeWords(rule.place), conditionWords(rule)].filter(Boolean).join(', ')}
              {cost !== null && <span className="text-[13px] text-plum"> {cost}</span>}
            </span>
            {rule.removed ? (
              <span className="text-soft">{doingWords(rule)}</span>
            ) : (
              <select
                aria-label={`Effect on ${rule.addonName}`}
                className="border border-line bg-paper px-2 py-1"
                value={choiceKey(rule)}
                onChange={(event) => {
                  const to = choices.find((choice) => choiceKey(choice) === event.target.value)
                  if (to) change.mutate({ do: 'change', id: rule.id, to }, { onError })
                }}
              >
                {choices.map((choice) => (
                  <option key={choiceKey(choice)} value={choiceKey(choice)}>
                    {effectWords({
                      ...choice,
                      file: rule.file,
                      ...(choice.effect === rule.effect && { copy: rule.copy }),
                    })}
                  </option>
                ))}
              </select>
            )}
            <button
              type="button"
              aria-label={`Withdraw the draft on ${rule.addonName}`}
              className="p-1 text-soft hover:text-ink"
              onClick={() => change.mutate({ do: 'remove', id: rule.id }, { onError })}
            >
              <X size={16} aria-hidden />
            </button>
          </li>
        )
      })}
    </ul>
  )
}
