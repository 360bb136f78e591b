import type { CulpritSearch, RuleView } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { conditionWords, doingWords, placeWords, subjectWords } from '../rules/words.js'

const REASONS: Record<CulpritSearch['suspects'][number]['reasons'][number], string> = {
  named: 'what is missed or complains bears its name',
  'its file': 'its file complains',
  needed: 'what complains needs it',
  changed: 'it is another version than before',
  used: 'it was seen in use here',
  there: '',
}

/** A draft as one line. */
export const draftWords = (rule: RuleView): string =>
  [`${subjectWords(rule)} ${doingWords(rule)} ${placeWords(rule.place)}`, conditionWords(rule)]
    .filter(Boolean)
    .join(', ')

/** Why it is suspected; empty where it is like any other. */
export const reasonWords = (reasons: CulpritSearch['suspects'][number]['reasons']): string =>
  reasons
    .map((reason) => REASONS[reason])
    .filter(Boolean)
    .join(', ')

/** How a search stands. */
export function searchWords({ state, suspects, tries, culprits, asking, failure }: CulpritSearch): string {
  if (culprits) return ''
  const readings = tries.reduce((sum, one) => sum + one.readings, 0)
  if (state === 'running')
    return `${plural(suspects.length, 'draft')} here; ${plural(readings, 'reading')} so far, ${
      asking ? `trying ${asking.length === 1 ? 'one alone' : `${asking.length} of them`}` : 'beginning'
    } …`
  return state === 'stopped' ? 'Stopped before it was found.' : `Not found: ${failure ?? 'it could not be carried on.'}`
}
