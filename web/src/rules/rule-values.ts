import type { AddOn, Effect, HoldUntil, Order, Place, RuleInput, RuleView } from '@unvelt/contract'
import { choiceKey, effectChoices, type EffectChoice } from './words.js'

/** A rule as a form holds it. */
export interface RuleValues {
  addon: string
  /** `feature x`, `file x`, `setting x`; empty for all of the add-on. */
  part: string
  /** An effect with what it needs, as `choiceKey` has it. */
  effect: string
  value: string
  level: Place['level'] | 'public' | 'office'
  kind: string
  pattern: string
  /** A path on each line. */
  paths: string
  device: '' | 'desk' | 'handset'
  visitor: '' | 'signed-out' | 'signed-in'
  note: string
  author: string
  expires: string
}

const EMPTY: RuleValues = {
  addon: '', part: '', effect: '', value: '', level: 'public', kind: '', pattern: '', paths: '', device: '', visitor: '', note: '',
  author: '', expires: '',
} // prettier-ignore

export function valuesOf(rule: RuleView | null, author: string): RuleValues {
  if (!rule) return { ...EMPTY, author }
  const { addon, feature, file, setting, place, condition, value, note = '', expires = '' } = rule
  const part = feature !== undefined ? `feature ${feature}` : file !== undefined ? `file ${file}` : setting !== undefined ? `setting ${setting}` : '' // prettier-ignore
  return {
    ...EMPTY,
    addon,
    part,
    effect: choiceKey(rule),
    value: value === undefined ? '' : String(value),
    level: place.level === 'area' ? place.area : place.level === 'page' ? 'set' : place.level,
    kind: place.level === 'kind' ? place.kind : '',
    pattern: place.level === 'path' ? place.pattern : '',
    paths: place.level === 'page' ? place.path : place.level === 'set' ? place.paths.join('\n') : '',
    device: condition?.device ?? '',
    visitor: condition?.visitor ?? '',
    note,
    author: rule.author ?? author,
    expires,
  }
}

/** What is written, as a rule; null while it is not whole. */
export function ruleOf(values: RuleValues): RuleInput | null {
  const { addon, part, effect, value, device, visitor, note, author, expires } = values
  const place = placeOf(values)
  if (addon === '' || effect === '' || place === null) return null
  const [kind, ...name] = part.split(' ')
  const [what, how] = effect.split(' ') as [Effect, string | undefined]
  return {
    addon,
    ...(part !== '' && { [kind!]: name.join(' ') }),
    effect: what,
    ...(what === 'hold' && { until: how as HoldUntil }),
    ...(what === 'order' && { order: how as Order }),
    ...(what === 'set' && { value: Number(value) }),
    place,
    ...((device || visitor) && { condition: { ...(device && { device }), ...(visitor && { visitor }) } }),
    ...(note.trim() && { note: note.trim() }),
    ...(author.trim() && { author: author.trim() }),
    ...(expires && { expires }),
  }
}

export const pathsIn = (text: string): string[] =>
  text
    .split('\n')
    .map((path) => path.trim())
    .filter(Boolean)

function placeOf({ level, kind, pattern, paths }: RuleValues): Place | null {
  switch (level) {
    case 'public':
    case 'office':
      return { level: 'area', area: level }
    case 'kind':
      return kind === '' ? null : { level, kind }
    case 'path':
      return pattern === '' ? null : { level, pattern }
    case 'page':
    case 'set': {
      const all = [...new Set(pathsIn(paths))]
      if (all.length === 0) return null
      return all.length === 1 ? { level: 'page', path: all[0]! } : { level: 'set', paths: all }
    }
    default:
      return { level: 'everywhere' }
  }
}

/** What can be done to a part of an add-on on this site. */
export function choicesFor(effects: readonly string[], addOn: AddOn | undefined, part: string): EffectChoice[] {
  const kind = part.split(' ')[0]
  if (kind === 'setting') return [{ effect: 'set' }, { effect: 'keep' }]
  return effectChoices(effects).filter(({ effect }) =>
    kind === 'feature'
      ? effect === 'skip' || effect === 'leave-out' || effect === 'keep'
      : effect !== 'skip' || (kind !== 'file' && addOn?.canSkip === true),
  )
}

/** Parts of an add-on that a rule can be about, as values and names. */
export const partsOf = (addOn: AddOn | undefined): [string, string][] => [
  ['', 'all of it'],
  ...(addOn?.features ?? []).map(({ slug, name }): [string, string] => [`feature ${slug}`, `feature ${name}`]),
  ...(addOn?.settings ?? []).map(({ slug, name }): [string, string] => [`setting ${slug}`, `setting ${name}`]),
  ...(addOn?.files ?? []).map(({ path }): [string, string] => [`file ${path}`, `file ${path}`]),
]
