import type { RuleView } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { changesBetween, placeAndVisit } from './rule-rows.js'
import { effectWords, subjectWords } from './words.js'

const MOST_SHOWN = 200

interface VersionChangesProps {
  rules: RuleView[]
  /** Of the version before. */
  before: RuleView[]
}

/** What a version has that the one before had not, and the other way round. */
export function VersionChanges({ rules, before }: VersionChangesProps) {
  const changes = changesBetween(before, rules)
  if (changes.length === 0) return null
  return (
    <details className="mt-0.5 text-[13px]">
      <summary className="cursor-pointer text-soft hover:text-ink">
        {plural(changes.length, 'difference')} from the one before
      </summary>
      <ul aria-label="Differences" className="py-1">
        {changes.slice(0, MOST_SHOWN).map(({ sign, row: { rule, was } }) => (
          <li key={`${sign}${rule.id}`} className="flex gap-2">
            <span aria-hidden className="w-3 text-center text-verdigris">
              {sign}
            </span>
            <span>
              <span className="sr-only">{sign === '+' ? 'new: ' : sign === '−' ? 'gone: ' : 'changed: '}</span>
              <b className="font-semibold">{subjectWords(rule)}</b> {effectWords(rule)}
              {was && ` (was ${effectWords(was)})`} {placeAndVisit(rule)}
            </span>
          </li>
        ))}
        {changes.length > MOST_SHOWN && <li className="text-soft">and {changes.length - MOST_SHOWN} more</li>}
      </ul>
    </details>
  )
}
