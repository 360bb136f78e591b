import clsx from 'clsx'
import type { RuleSaving, RuleView } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { particularWords } from './particular-words.js'
import { placeAndVisit, type RuleRow } from './rule-rows.js'
import { RuleSavingCell } from './rule-saving.js'
import { effectWords, subjectWords } from './words.js'

/** Columns of the table of rules, its head included. */
export const GRID =
  'grid grid-cols-[28px_minmax(0,2fr)_minmax(0,1.6fr)_minmax(0,2.2fr)_148px_92px_minmax(0,1.4fr)_172px] gap-3 px-4'
const STATE_WORDS = { live: '', draft: 'draft', goes: 'draft: goes' }

interface RowProps {
  style: { height: number; transform: string }
  row: RuleRow
  saving: RuleSaving | undefined
  /** Its add-on stands above it. */
  isGrouped: boolean
  isPicked: boolean
  onPick(on: boolean): void
  onChange(): void
  onRemove(): void
}

/** A rule with what it says, spares and why it is there. */
export function RuleBookRow({
  style,
  row: { rule, state, was },
  saving,
  isGrouped,
  isPicked,
  onPick,
  onChange,
  onRemove,
}: RowProps) {
  const subject = subjectWords(rule)
  const part = isGrouped ? subject.slice(rule.addonName.length).replace(/^, /, '') || 'all of it' : subject
  const goes = state === 'goes'
  return (
    <div
      role="row"
      style={style}
      className={clsx(GRID, 'absolute inset-x-0 top-0 items-center border-t border-line/60 hover:bg-sheet')}
    >
      <span role="cell" className="flex">
        <input
          type="checkbox"
          aria-label={`Choose ${subject} ${placeAndVisit(rule)}`}
          checked={isPicked}
          onChange={({ target }) => onPick(target.checked)}
        />
      </span>
      <span
        role="cell"
        className={clsx('truncate', !isGrouped && 'font-semibold', goes && 'line-through')}
        title={subject}
      >
        {part}
      </span>
      <span
        role="cell"
        className={clsx('truncate', goes && 'line-through')}
        title={[effectWords(rule), particularWords(rule)].filter(Boolean).join(': ')}
      >
        {effectWords(rule)}
        {was && effectWords(was) !== effectWords(rule) && <span className="text-soft"> (was {effectWords(was)})</span>}
      </span>
      <span role="cell" className={clsx('truncate', goes && 'line-through')} title={placeTitle(rule)}>
        {placeAndVisit(rule)}
      </span>
      <span role="cell" className="figures truncate text-right">
        <RuleSavingCell saving={saving} />
      </span>
      <span role="cell" className="figures truncate text-soft">
        {STATE_WORDS[state] ? <span className="text-verdigris">{STATE_WORDS[state]}</span> : (rule.made ?? '')}
      </span>
      <span role="cell" className="truncate text-[13px] text-soft" title={noteWords(rule)}>
        {noteWords(rule)}
      </span>
      <span role="cell" className="flex justify-end">
        {!goes && (
          <Button
            weight="quiet"
            className="h-7 px-2"
            aria-label={`Change ${subject} ${placeAndVisit(rule)}`}
            onClick={onChange}
          >
            Change
          </Button>
        )}
        <Button
          weight="quiet"
          className="h-7 px-2"
          aria-label={`${goes ? 'Keep' : state === 'live' ? 'Remove' : 'Withdraw'} ${subject} ${placeAndVisit(rule)}`}
          onClick={onRemove}
        >
          {goes ? 'Keep' : state === 'live' ? 'Remove' : 'Withdraw'}
        </Button>
      </span>
    </div>
  )
}

const noteWords = (rule: RuleView) => {
  const { note, author, expires } = rule
  const why = [note, author && `(${author})`, expires && `until ${expires}`].filter(Boolean).join(' ')
  return [particularWords(rule), why].filter(Boolean).join(' · ')
}
const placeTitle = ({ place }: RuleView) => (place.level === 'set' ? place.paths.join('\n') : undefined)
