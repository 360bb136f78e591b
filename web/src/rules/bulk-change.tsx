import { useState } from 'react'
import { withoutParticulars, type RuleInput, type Site } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { inputOf, type RuleRow } from './rule-rows.js'
import { useDraft } from './use-draft.js'
import { choiceKey, effectChoices, effectWords } from './words.js'

const SAME = 'same'

/** Drafts another effect, a note or a last day for all rules that are chosen. What does not fit a rule leaves it as it is. */
export function BulkChange({ site, chosen, onDone }: { site: Site; chosen: RuleRow[]; onDone(): void }) {
  const draft = useDraft(site.id)
  const [effect, setEffect] = useState(SAME)
  const [note, setNote] = useState('')
  const [expires, setExpires] = useState('')
  const choices = effectChoices(site.effects)
  const to = choices.find((choice) => choiceKey(choice) === effect)
  // A rule that goes has nothing to be changed, and a setting keeps its value.
  const fitting = chosen.filter(({ state, rule }) => state !== 'goes' && !(to && rule.effect === 'set'))
  const isEmpty = effect === SAME && note.trim() === '' && expires === ''
  const changed = ({ rule }: RuleRow): RuleInput => {
    const before = inputOf(rule)
    return {
      ...(to ? { ...withoutParticulars(before), ...to } : before),
      ...(note.trim() !== '' && { note: note.trim() }),
      ...(expires !== '' && { expires }),
    }
  }
  return (
    <form
      aria-label="Change what is chosen"
      className="flex flex-wrap items-center gap-2 border-b border-line bg-wash px-4 py-2"
      onSubmit={(event) => {
        event.preventDefault()
        void draft.replace(fitting.map(changed), [], `${plural(fitting.length, 'rule')} changed in the drafts`)
        onDone()
      }}
    >
      <span className="font-semibold">{plural(chosen.length, 'rule')} chosen:</span>
      <select
        aria-label="What they do"
        value={effect}
        onChange={({ target }) => setEffect(target.value)}
        className="h-8 border border-line bg-sheet px-2"
      >
        <option value={SAME}>do what they do</option>
        {choices.map((choice) => (
          <option key={choiceKey(choice)} value={choiceKey(choice)}>
            {effectWords(choice)}
          </option>
        ))}
      </select>
      <input
        aria-label="Their note"
        placeholder="note as it is"
        value={note}
        maxLength={2000}
        onChange={({ target }) => setNote(target.value)}
        className="h-8 w-56 border border-line bg-sheet px-2"
      />
      <label className="flex items-center gap-2">
        until
        <input
          type="date"
          value={expires}
          onChange={({ target }) => setExpires(target.value)}
          className="h-8 border border-line bg-sheet px-2"
        />
      </label>
      <Button type="submit" weight="main" disabled={isEmpty || fitting.length === 0 || draft.isPending}>
        Draft the change
      </Button>
      {fitting.length < chosen.length && to && (
        <span className="text-[13px] text-soft">{chosen.length - fitting.length} stay as they are</span>
      )}
    </form>
  )
}
