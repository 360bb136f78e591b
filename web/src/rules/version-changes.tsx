import { useState } from 'react'
import type { RuleVersion } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { changesBetween, placeAndVisit } from './rule-rows.js'
import { effectWords, subjectWords } from './words.js'

const MOST_SHOWN = 200

interface VersionChangesProps {
  entry: RuleVersion
  /** All versions, the newest first. */
  versions: RuleVersion[]
}

/** What a version has that another had not, and the other way round: the one before it, or any that is chosen. */
export function VersionChanges({ entry, versions }: VersionChangesProps) {
  const previous = versions[versions.indexOf(entry) + 1]
  const [chosen, setChosen] = useState<number | null>(null)
  const other = chosen === null ? previous : versions.find(({ version }) => version === chosen)
  const changes = changesBetween(other?.rules ?? [], entry.rules)
  if (changes.length === 0 && chosen === null) return null
  return (
    <details className="mt-0.5 text-[13px]">
      <summary className="cursor-pointer text-soft hover:text-ink">
        {plural(changes.length, 'difference')} from {chosen === null ? 'the one before' : `version ${chosen}`}
      </summary>
      {versions.length > 2 && (
        <label className="flex items-center gap-2 py-1">
          compared with
          <select
            value={chosen ?? ''}
            onChange={({ target }) => setChosen(target.value === '' ? null : Number(target.value))}
            className="h-7 min-w-0 border border-line bg-sheet px-1.5 max-md:w-36"
          >
            <option value="">the one before</option>
            {versions
              .filter((one) => one !== entry && one !== previous)
              .map(({ version, what }) => (
                <option key={version} value={version}>
                  {version}: {what}
                </option>
              ))}
          </select>
        </label>
      )}
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
