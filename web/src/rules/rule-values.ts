import type { AddOn, Effect, HoldUntil, Order, Place, RuleInput, RuleView } from '@unvelt/contract'
import { hostLines, hostsIn } from './particular-words.js'
import { linesIn } from './paths.js'
import { choiceKey, effectChoices, type EffectChoice } from './words.js'

/** A rule as a form holds it. */
export interface RuleValues {
  addon: string
  /** `feature x`, `file x`, `setting x`; empty for all of the add-on. */
  part: string
  /** An effect with what it needs, as `choiceKey` has it. */
  effect: string
  value: string
  /** What stands where it is held until asked for, and a picture above it. */
  words: string
  picture: string
  /** How a copy is kept. */
  refreshDays: string
  licence: string
  /** Of a copy that was made: its content and what it was made from, which only its maker can say; empty for one that is fetched. */
  content: string
  from: string
  /** A host on each line. */
  hosts: string
  /** Of a picture that no tag names. */
  ahead: boolean
  level: Place['level'] | 'public' | 'office' | 'named'
  kind: string
  pattern: string
  /** A path on each line. */
  paths: string
  /** Of a set that has a name. */
  set: string
  /** Where it is kept all the same: a path, or a pattern of addresses, on each line. */
  except: string
  device: '' | 'desk' | 'handset'
  visitor: '' | 'signed-out' | 'signed-in'
  note: string
  author: string
  expires: string
}

const EMPTY: RuleValues = {
  addon: '', part: '', effect: '', value: '', words: '', picture: '', refreshDays: '', licence: '', content: '', from: '', hosts: '', ahead: false, level: 'public', kind: '', pattern: '', paths: '', set: '', except: '', device: '', visitor: '', note: '',
  author: '', expires: '',
} // prettier-ignore

/** What a new rule is to be about. */
export type About = Pick<RuleValues, 'addon' | 'part'> &
  Partial<Pick<RuleValues, 'effect' | 'content' | 'from' | 'note' | 'level' | 'kind'>>

export function valuesOf(rule: RuleView | null, author: string, about?: About): RuleValues {
  if (!rule) return { ...EMPTY, ...about, author }
  const { addon, feature, file, setting, place, condition, value, note = '', expires = '' } = rule
  const part = feature !== undefined ? `feature ${feature}` : file !== undefined ? `file ${file}` : setting !== undefined ? `setting ${setting}` : '' // prettier-ignore
  return {
    ...EMPTY,
    addon,
    part,
    effect: choiceKey(rule),
    value: value === undefined ? '' : String(value),
    words: rule.ask?.words ?? '',
    picture: rule.ask?.picture ?? '',
    refreshDays: rule.copy?.refreshDays === undefined ? '' : String(rule.copy.refreshDays),
    licence: rule.copy?.licence ?? '',
    content: rule.copy?.content ?? '',
    from: rule.copy?.from ?? '',
    hosts: hostLines(rule.hosts),
    ahead: rule.ahead === true,
    level: levelOf(place),
    kind: place.level === 'kind' ? place.kind : '',
    pattern: place.level === 'path' ? place.pattern : '',
    paths: place.level === 'page' ? place.path : place.level === 'set' ? place.paths.join('\n') : '',
    set: (place.level === 'set' && place.name) || '',
    device: condition?.device ?? '',
    visitor: condition?.visitor ?? '',
    note,
    author: rule.author ?? author,
    expires,
  }
}

function levelOf(place: Place): RuleValues['level'] {
  if (place.level === 'area') return place.area
  if (place.level === 'set' && place.name !== undefined) return 'named'
  return place.level === 'page' ? 'set' : place.level
}

/** Where a new rule about something is written. */
export const writtenAt = (siteId: number, addon: string, file: string): string =>
  `/sites/${siteId}/rules?${new URLSearchParams({ about: addon, file }).toString()}`

export function aboutIn(search: URLSearchParams): About | undefined {
  const [addon, file] = [search.get('about'), search.get('file')]
  return addon === null ? undefined : { addon, part: file === null ? '' : `file ${file}` }
}

/** An address with all else that it says. */
export function withoutAbout(search: URLSearchParams): URLSearchParams {
  const rest = new URLSearchParams(search)
  rest.delete('about')
  rest.delete('file')
  return rest
}

/** What is written, as a rule; null while it is not whole. */
export function ruleOf(values: RuleValues, sets: readonly NamedPages[] = []): RuleInput | null {
  const { addon, part, effect, value, device, visitor, note, author, expires } = values
  const place = placeOf(values, sets)
  if (addon === '' || effect === '' || place === null) return null
  const [kind, ...name] = part.split(' ')
  const [what, how] = effect.split(' ') as [Effect, string | undefined]
  return {
    addon,
    ...(part !== '' && { [kind!]: name.join(' ') }),
    effect: what,
    ...(what === 'hold' && { until: how as HoldUntil }),
    ...(effect === ASKED && askOf(values)),
    ...(what === 'order' && { order: how as Order }),
    ...(what === 'set' && { value: Number(value) }),
    ...(what === 'local' && copyOf(values)),
    ...(what === 'hint' && (part.startsWith('file ') ? values.ahead && { ahead: true as const } : hostsOf(values))),
    place,
    ...((device || visitor) && { condition: { ...(device && { device }), ...(visitor && { visitor }) } }),
    ...(note.trim() && { note: note.trim() }),
    ...(author.trim() && { author: author.trim() }),
    ...(expires && { expires }),
  }
}

/** The effect by which something waits until somebody asks for it. */
export const ASKED = 'hold asked'

function askOf({ words, picture }: RuleValues): Pick<RuleInput, 'ask'> {
  const ask = { ...(words.trim() && { words: words.trim() }), ...(picture.trim() && { picture: picture.trim() }) }
  return Object.keys(ask).length > 0 ? { ask } : {}
}

function copyOf({ refreshDays, licence, content, from }: RuleValues): Pick<RuleInput, 'copy'> {
  if (content !== '') return { copy: { content, from } }
  const days = Number(refreshDays.trim())
  const copy = {
    ...(refreshDays.trim() !== '' && Number.isInteger(days) && { refreshDays: days }),
    ...(licence.trim() && { licence: licence.trim() }),
  }
  return Object.keys(copy).length > 0 ? { copy } : {}
}

/** Without any, the site is told of those that the last sweep saw. What can't be read is refused by the form. */
function hostsOf({ hosts }: RuleValues): Pick<RuleInput, 'hosts'> {
  try {
    const named = hostsIn(hosts)
    return named.length > 0 ? { hosts: named } : {}
  } catch {
    return {}
  }
}

/** Pages that have a name together. */
export interface NamedPages {
  name: string
  paths: string[]
}

/** The sets that a rule can say: those that there are, and the one that it says already. */
export function setsToChoose(sets: readonly NamedPages[], rule: RuleView | null): NamedPages[] {
  const place = rule?.place
  if (place?.level !== 'set' || place.name === undefined || sets.some(({ name }) => name === place.name))
    return [...sets]
  return [...sets, { name: place.name, paths: place.paths }]
}

function placeOf({ level, kind, pattern, paths, set }: RuleValues, sets: readonly NamedPages[]): Place | null {
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
      const all = linesIn(paths)
      if (all.length === 0) return null
      return all.length === 1 ? { level: 'page', path: all[0]! } : { level: 'set', paths: all }
    }
    case 'named': {
      const found = sets.find(({ name }) => name === set)
      return found ? { level: 'set', paths: found.paths, name: found.name } : null
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
/** @param seen Names of files that came with it, whether its site lists them or not. */
export const partsOf = (addOn: AddOn | undefined, seen: readonly string[]): [string, string][] => [
  ['', 'all of it'],
  ...(addOn?.features ?? []).map(({ slug, name }): [string, string] => [`feature ${slug}`, `feature ${name}`]),
  ...(addOn?.settings ?? []).map(({ slug, name }): [string, string] => [`setting ${slug}`, `setting ${name}`]),
  ...[...new Set([...(addOn?.files ?? []).map(({ path }) => path), ...seen])].map((name): [string, string] => [
    `file ${name}`,
    `file ${name}`,
  ]),
]
