import {
  HOLD_UNTIL,
  ORDERS,
  type Effect,
  type HoldUntil,
  type Order,
  type Place,
  type RuleView,
} from '@unvelt/contract'

/** An effect with what it needs to be whole. */
export interface EffectChoice {
  effect: Effect
  until?: HoldUntil
  order?: Order
  /** For set. */
  value?: number
  /** For local: a copy that was made is one of the file without what nobody needs. */
  copy?: { content?: string }
  /** A hint of one file has it asked for first. */
  file?: string
}

const PLAIN_WORDS: Record<Effect, string> = {
  skip: 'not run by the site',
  'leave-out': 'files left out',
  hold: 'held back',
  order: 'loaded later',
  local: 'served by the own host',
  'system-font': 'system font instead',
  hint: 'connected early',
  set: 'set',
  keep: 'kept',
}

const UNTIL_WORDS: Record<HoldUntil, string> = {
  idle: 'held until the page is idle',
  input: 'held until the first input',
  seen: 'held until in sight',
  asked: 'held until asked for',
}

const ORDER_WORDS: Record<Order, string> = {
  defer: 'run after the page is read',
  async: 'run whenever it has come',
  end: 'moved to the end of the page',
}

/** What a rule does, or that it is to do so no longer. */
export const doingWords = (rule: RuleView): string =>
  rule.removed ? `no longer ${effectWords(rule)}` : effectWords(rule)

/** What an effect does, said to the maintainer. */
export function effectWords({ effect, until = 'idle', order = 'defer', value, copy, file }: EffectChoice): string {
  if (effect === 'set') return `set to ${value}`
  if (effect === 'local' && copy?.content !== undefined) return 'served cleaned'
  if (effect === 'hint' && file !== undefined) return 'asked for first'
  if (effect === 'hold') return UNTIL_WORDS[until]
  return effect === 'order' ? ORDER_WORDS[order] : PLAIN_WORDS[effect]
}

/** Every way in which a site can carry out its effects. */
export function effectChoices(effects: readonly string[]): EffectChoice[] {
  // A setting needs to be named, so it is not among the choices for a whole add-on.
  return (effects as Effect[])
    .filter((effect) => effect !== 'set')
    .flatMap((effect): EffectChoice[] => {
      if (effect === 'hold') return HOLD_UNTIL.map((until) => ({ effect, until }))
      return effect === 'order' ? ORDERS.map((order) => ({ effect, order })) : [{ effect }]
    })
}

/** A choice as the value of a form field. */
export const choiceKey = ({ effect, until, order }: Pick<RuleView, 'effect' | 'until' | 'order'>) =>
  effect === 'hold' ? `${effect} ${until ?? 'idle'}` : effect === 'order' ? `${effect} ${order ?? 'defer'}` : effect

/** A rule's add-on, with the part of it that is meant. */
export function subjectWords({ addonName, feature, file, setting }: RuleView): string {
  const part = feature !== undefined ? `feature ${feature}` : (file ?? setting)
  return part === undefined ? addonName : `${addonName}, ${part}`
}

/** Where a rule holds, as the end of a sentence. */
export function placeWords(place: Place): string {
  switch (place.level) {
    case 'page':
      return `on ${place.path}`
    case 'set':
      return place.name === undefined
        ? `on ${place.paths.length} pages`
        : `on ${place.name} (${place.paths.length === 1 ? '1 page' : `${place.paths.length} pages`})`
    case 'path':
      return `on addresses like ${place.pattern}`
    case 'kind':
      return `on every page of kind ${place.kind}`
    case 'area':
      return place.area === 'public' ? 'on all public pages' : 'in the back office'
    case 'everywhere':
      return 'everywhere'
  }
}

/** For which visits a rule holds, as the end of a sentence; empty for all. */
export function conditionWords({ condition }: Pick<RuleView, 'condition'>): string {
  const words = [
    condition?.device && (condition.device === 'desk' ? 'at a desk' : 'on a handset'),
    condition?.visitor &&
      (condition.visitor === 'signed-in' ? 'for people who have signed in' : 'for those who have not'),
  ].filter(Boolean)
  return words.join(', ')
}
