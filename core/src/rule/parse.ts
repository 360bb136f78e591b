import { checkParticulars, isRecord, onlyKnown } from './parse-particulars.js'
import { PARTICULARS, particularsOf } from './particulars.js'
import { pathPattern, slowPattern } from './path-pattern.js'
import { EFFECTS, type Condition, type Effect, type Place, type Rule } from './rule.js'

/** A place in a rule file and what was expected there. */
export interface RuleProblem {
  /** JSON Pointer (RFC 6901). */
  at: string
  expected: string
}

export const RULES_FORMAT = 'unvelt-rules/1'
const MOST_RULES = 20_000
const LONGEST_TEXT = 2_000

/** A rule file: what the site is sent, and what is exported. */
export interface RuleFile {
  format: typeof RULES_FORMAT
  rules: Rule[]
}

/** Reads a rule file from parsed JSON. Either every rule is sound, or every problem is named and nothing is taken. */
export function parseRuleFile(value: unknown): { file: RuleFile } | { problems: RuleProblem[] } {
  const problems: RuleProblem[] = []
  if (!isRecord(value)) return { problems: [{ at: '', expected: 'an object with format and rules' }] }
  onlyKnown(value, ['format', 'rules'], '', problems)
  if (value.format !== RULES_FORMAT) problems.push({ at: '/format', expected: `"${RULES_FORMAT}"` })
  if (!Array.isArray(value.rules)) return { problems: [...problems, { at: '/rules', expected: 'a list of rules' }] }
  if (value.rules.length > MOST_RULES)
    return { problems: [...problems, { at: '/rules', expected: `at most ${MOST_RULES} rules` }] }
  const rules = value.rules.map((rule, index) => parseRule(rule, `/rules/${index}`, problems))
  const seen = new Set<string>()
  rules.forEach((rule, index) => {
    if (rule && seen.has(rule.id)) problems.push({ at: `/rules/${index}/id`, expected: 'an id of its own' })
    if (rule) seen.add(rule.id)
  })
  return problems.length > 0 ? { problems } : { file: { format: RULES_FORMAT, rules: rules as Rule[] } }
}

function parseRule(value: unknown, at: string, problems: RuleProblem[]): Rule | null {
  const before = problems.length
  if (!isRecord(value)) {
    problems.push({ at, expected: 'an object' })
    return null
  }
  const text = (key: string, optional = false) => {
    const found = value[key]
    if (optional && found === undefined) return
    if (typeof found !== 'string' || found === '' || found.length > LONGEST_TEXT)
      problems.push({ at: `${at}/${key}`, expected: `a text of 1 to ${LONGEST_TEXT} characters` })
  }
  onlyKnown(value, RULE_KEYS, at, problems)
  text('id')
  text('addon')
  text('feature', true)
  text('file', true)
  text('setting', true)
  text('note', true)
  text('author', true)
  text('madeFor', true)
  for (const key of ['made', 'expires'])
    if (value[key] !== undefined && !isDay(value[key]))
      problems.push({ at: `${at}/${key}`, expected: 'a day, such as 2026-11-29' })
  if (!EFFECTS.includes(value.effect as Effect))
    problems.push({ at: `${at}/effect`, expected: `one of ${EFFECTS.join(', ')}` })
  checkParticulars(value, at, problems)
  checkSetting(value, at, problems)
  checkPlace(value.place, `${at}/place`, problems)
  if (value.condition !== undefined) checkCondition(value.condition, `${at}/condition`, problems)
  if (problems.length > before) return null
  const { id, addon, feature, file, setting, effect, place, condition, note, author, made, madeFor, expires } =
    value as unknown as Rule
  return {
    id,
    addon,
    ...(feature !== undefined && { feature }),
    ...(file !== undefined && { file }),
    ...(setting !== undefined && { setting }),
    effect,
    ...particularsOf(value as unknown as Rule),
    place,
    ...(condition !== undefined && { condition }),
    ...(note !== undefined && { note }),
    ...(author !== undefined && { author }),
    ...(made !== undefined && { made }),
    ...(madeFor !== undefined && { madeFor }),
    ...(expires !== undefined && { expires }),
  }
}

/** A setting's value is said by `set` alone, and an exception from it by `keep`. */
function checkSetting(
  { effect, setting, value, feature, file }: Record<string, unknown>,
  at: string,
  problems: RuleProblem[],
): void {
  if (setting === undefined ? effect === 'set' : effect !== 'set' && effect !== 'keep')
    problems.push({ at: `${at}/setting`, expected: 'a setting, with the effects set and keep only' })
  if (setting !== undefined && (feature !== undefined || file !== undefined))
    problems.push({ at: `${at}/setting`, expected: 'no feature or file beside it' })
  if (effect === 'set' ? !Number.isInteger(value) : value !== undefined)
    problems.push({ at: `${at}/value`, expected: 'a whole number, with the effect set only' })
}

function checkPlace(value: unknown, at: string, problems: RuleProblem[]): void {
  const place = (isRecord(value) ? value : {}) as Partial<Record<string, unknown>>
  const keys = PLACE_KEYS.get(place.level as string)
  if (keys) onlyKnown(place, ['level', ...keys], at, problems)
  const path = (v: unknown) => typeof v === 'string' && v.startsWith('/') && v.length <= LONGEST_TEXT
  switch (place.level as Place['level']) {
    case 'everywhere':
      return
    case 'area':
      if (place.area !== 'public' && place.area !== 'office')
        problems.push({ at: `${at}/area`, expected: 'public or office' })
      return
    case 'kind':
      if (typeof place.kind !== 'string' || place.kind === '')
        problems.push({ at: `${at}/kind`, expected: 'a page kind' })
      return
    case 'path':
      if (!path(place.pattern) || !pathPattern(place.pattern as string))
        problems.push({ at: `${at}/pattern`, expected: 'a URLPattern pathname that begins with /' })
      else {
        const slow = slowPattern(place.pattern as string)
        if (slow) problems.push({ at: `${at}/pattern`, expected: slow })
      }
      return
    case 'set':
      if (!Array.isArray(place.paths) || place.paths.length === 0 || !place.paths.every(path))
        problems.push({ at: `${at}/paths`, expected: 'a list of paths that begin with /' })
      if (
        place.name !== undefined &&
        (typeof place.name !== 'string' || !/\S/.test(place.name) || place.name.length > 60)
      )
        problems.push({ at: `${at}/name`, expected: 'a name of at most 60 characters' })
      return
    case 'page':
      if (!path(place.path)) problems.push({ at: `${at}/path`, expected: 'a path that begins with /' })
      return
    default:
      problems.push({ at: `${at}/level`, expected: 'one of page, set, path, kind, area, everywhere' })
  }
}

function checkCondition(value: unknown, at: string, problems: RuleProblem[]): void {
  const condition = (isRecord(value) ? value : { device: null }) as { [K in keyof Condition]: unknown }
  onlyKnown(condition, ['device', 'visitor'], at, problems)
  if (condition.device !== undefined && condition.device !== 'desk' && condition.device !== 'handset')
    problems.push({ at: `${at}/device`, expected: 'desk or handset' })
  if (condition.visitor !== undefined && condition.visitor !== 'signed-out' && condition.visitor !== 'signed-in')
    problems.push({ at: `${at}/visitor`, expected: 'signed-out or signed-in' })
}

const RULE_KEYS: readonly string[] = [
  ...['id', 'addon', 'feature', 'file', 'setting', 'effect', ...PARTICULARS],
  ...['place', 'condition', 'note', 'author', 'made', 'madeFor', 'expires'],
]
const PLACE_KEYS = new Map([
  ['everywhere', []],
  ['area', ['area']],
  ['kind', ['kind']],
  ['path', ['pattern']],
  ['set', ['paths', 'name']],
  ['page', ['path']],
])

/** A day of the calendar that there is (ISO 8601). */
export function isDay(value: unknown): value is string {
  if (typeof value !== 'string' || !/^\d{4}-\d\d-\d\d$/.test(value)) return false
  const day = new Date(`${value}T00:00:00Z`)
  return !Number.isNaN(day.getTime()) && day.toISOString().startsWith(value)
}
