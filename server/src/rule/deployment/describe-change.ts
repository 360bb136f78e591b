import type { Effect, Rule } from '@unvelt/core'
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
  const done = (only.removed ? GONE : DONE)[only.effect]
  return [`${only.addonName} ${done} ${where}`, ...conditionWords(only.condition)].join(', ')
}

const conditionWords = (condition: Rule['condition']): string[] => [
  ...(condition?.device ? [condition.device === 'desk' ? 'at a desk' : 'on a handset'] : []),
  ...(condition?.visitor ? [condition.visitor === 'signed-in' ? 'for the signed-in' : 'for those not signed in'] : []),
]
