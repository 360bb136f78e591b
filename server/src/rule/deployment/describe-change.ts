import type { Effect, Rule } from '@unvelt/core'
import type { RuleView } from '@unvelt/contract'
import type { DraftRule } from '../merge-rules.js'
import { ruleViews } from '../rule-view.js'

const DONE: Record<Effect, string> = {
  skip: 'not run',
  'leave-out': 'left out',
  hold: 'held back',
  order: 'put in another order',
  local: 'served by the own host',
  'system-font': 'replaced by a system font',
  hint: 'connected early',
  set: 'set',
  keep: 'kept',
}

/** What is the case once such a rule is gone. */
const GONE: Record<Effect, string> = {
  skip: 'run again',
  'leave-out': 'no longer left out',
  hold: 'no longer held back',
  order: 'in its own order again',
  local: 'from its own host again',
  'system-font': 'in its own typeface again',
  hint: 'no longer connected early',
  set: 'as it was set before',
  keep: 'no longer kept',
}

const MOST_NAMED = 2

/** The change in words: one rule says what it does, more are counted. */
export async function describeChange(siteId: number, drafts: DraftRule[]): Promise<string> {
  const [only, ...more] = await ruleViews(siteId, drafts)
  if (!only || more.length > 0) {
    const names = [...new Set((await ruleViews(siteId, drafts)).map(({ addonName }) => addonName))]
    const whom = names.length > MOST_NAMED ? `${names.length} add-ons` : names.join(' and ')
    return drafts.every(({ removed }) => removed)
      ? `${drafts.length} rules on ${whom} taken away`
      : `${drafts.length} rules on ${whom}`
  }
  const { place } = only
  const where =
    place.level === 'page'
      ? `on ${place.path}`
      : place.level === 'kind'
        ? `on pages of kind ${place.kind}`
        : place.level === 'set'
          ? `on ${place.name ?? `${place.paths.length} pages`}`
          : place.level === 'path'
            ? `on addresses like ${place.pattern}`
            : place.level === 'area'
              ? place.area === 'public'
                ? 'on all public pages'
                : 'in the back office'
              : place.level
  const what = only.file === undefined ? only.addonName : `${fileName(only.file)} of ${only.addonName}`
  return [`${what} ${doneWords(only)} ${where}`, ...conditionWords(only.condition)].join(', ')
}

/** What is done to one file may be something else than what is done to an add-on. */
function doneWords({ effect, file, copy, removed }: RuleView): string {
  if (effect === 'local' && copy?.content !== undefined) return removed ? 'served as it is again' : 'served cleaned'
  if (effect === 'hint' && file !== undefined) return removed ? 'no longer asked for first' : 'asked for first'
  return (removed ? GONE : DONE)[effect]
}

const fileName = (file: string): string =>
  file
    .replace(/[?#].*$/, '')
    .split('/')
    .filter(Boolean)
    .at(-1) ?? file

const conditionWords = (condition: Rule['condition']): string[] => [
  ...(condition?.device ? [condition.device === 'desk' ? 'at a desk' : 'on a handset'] : []),
  ...(condition?.visitor ? [condition.visitor === 'signed-in' ? 'for the signed-in' : 'for those not signed in'] : []),
]
