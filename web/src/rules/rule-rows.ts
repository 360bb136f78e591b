import { particularsOf, type RuleInput, type RuleView } from '@unvelt/contract'
import { conditionWords, effectWords, placeWords, subjectWords } from './words.js'

/** A rule as it is live, as it would be, or as it would go. */
export interface RuleRow {
  rule: RuleView
  state: 'live' | 'draft' | 'goes'
  /** What is live instead, for a draft that changes something. */
  was: RuleView | null
}

export const GROUPINGS = ['add-on', 'effect', 'place', 'nothing'] as const
export type Grouping = (typeof GROUPINGS)[number]

/** Rules about the same thing, as the server takes them for one. */
export const subjectOf = ({ addon, feature, file, setting, place, condition }: RuleInput): string => {
  const where =
    place.level !== 'set'
      ? place
      : place.name === undefined
        ? { ...place, paths: [...place.paths].sort() }
        : { level: place.level, name: place.name }
  return JSON.stringify([
    addon,
    feature ?? null,
    file ?? null,
    setting ?? null,
    Object.entries(where).sort(),
    condition?.device ?? null,
    condition?.visitor ?? null,
  ])
}

/** The live rules with the drafts in their places, each thing once. */
export function ruleRows(live: readonly RuleView[], drafts: readonly RuleView[]): RuleRow[] {
  const drafted = new Map(drafts.map((rule) => [subjectOf(rule), rule]))
  const isLive = new Map(live.map((rule) => [subjectOf(rule), rule]))
  return [
    ...drafts.map((rule): RuleRow => {
      const was = isLive.get(subjectOf(rule)) ?? null
      return { rule, state: rule.removed ? 'goes' : 'draft', was: rule.removed ? null : was }
    }),
    ...live
      .filter((rule) => !drafted.has(subjectOf(rule)))
      .map((rule): RuleRow => ({ rule, state: 'live', was: null })),
  ]
}

/** The rules as they would be live with the drafts. */
export const asLive = (rows: readonly RuleRow[]): RuleView[] =>
  rows.filter(({ state }) => state !== 'goes').map(({ rule }) => rule)

export const placeAndVisit = (rule: RuleView) =>
  [placeWords(rule.place), conditionWords(rule)].filter(Boolean).join(', ')

const textOf = ({ rule, state }: RuleRow) =>
  [subjectWords(rule), effectWords(rule), placeAndVisit(rule), rule.note, rule.author, state, ...pathsOf(rule)]
    .join(' ')
    .toLowerCase()

const pathsOf = ({ place }: RuleView) => (place.level === 'set' ? place.paths : [])

/** Rows in which every word of the text is found. */
export function filtered(rows: readonly RuleRow[], text: string): RuleRow[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  return words.length === 0 ? [...rows] : rows.filter((row) => hasAll(textOf(row), words))
}
const hasAll = (text: string, words: readonly string[]) => words.every((word) => text.includes(word))

export type SortKey = 'subject' | 'effect' | 'place' | 'made'
const SORTED_BY: Record<SortKey, (row: RuleRow) => string> = {
  subject: ({ rule }) => subjectWords(rule),
  effect: ({ rule }) => effectWords(rule),
  place: ({ rule }) => placeAndVisit(rule),
  made: ({ rule }) => rule.made ?? '',
}
const order = new Intl.Collator('en', { numeric: true })

export function sorted(rows: readonly RuleRow[], key: SortKey, descending: boolean): RuleRow[] {
  const by = SORTED_BY[key]
  const told = rows.map((row) => ({ row, text: by(row) }))
  told.sort((a, b) => (descending ? -1 : 1) * order.compare(a.text, b.text))
  return told.map(({ row }) => row)
}

const GROUP_OF: Record<Exclude<Grouping, 'nothing'>, (row: RuleRow) => string> = {
  'add-on': ({ rule }) => rule.addonName,
  effect: ({ rule }) => effectWords(rule),
  place: ({ rule }) => placeWords(rule.place),
}

/** A line of the table: a row, or the heading of those below it. */
export type RuleLine = { heading: string; count: number } | { row: RuleRow }

export function lines(rows: readonly RuleRow[], grouping: Grouping): RuleLine[] {
  if (grouping === 'nothing') return rows.map((row) => ({ row }))
  const groups = new Map<string, RuleRow[]>()
  for (const row of rows) {
    const name = GROUP_OF[grouping](row)
    const group = groups.get(name)
    if (group) group.push(row)
    else groups.set(name, [row])
  }
  return [...groups]
    .sort(([a], [b]) => order.compare(a, b))
    .flatMap(([heading, all]) => [{ heading, count: all.length }, ...all.map((row) => ({ row }))])
}

/** What of a shown rule can be drafted anew. */
export function inputOf(rule: RuleView): RuleInput {
  const { id: _, addonName: __, made: ___, revision: ____, ...input } = rule
  return input
}

/** What became of a rule from one version to another. */
export interface Change {
  sign: '+' | '−' | '±'
  row: RuleRow
}

const said = (rule: RuleView) => JSON.stringify([rule.effect, particularsOf(rule)])

/** What became of each rule between two versions. */
export function changesBetween(before: readonly RuleView[], after: readonly RuleView[]): Change[] {
  const rows = ruleRows(before, after)
  return rows.flatMap((row): Change[] => {
    if (row.state === 'live') return [{ sign: '−', row }]
    if (row.was === null) return [{ sign: '+', row }]
    return said(row.was) === said(row.rule) ? [] : [{ sign: '±', row }]
  })
}

/** The drafts by which what is live becomes what was live once. */
export const draftsBack = (live: readonly RuleView[], then: readonly RuleView[]): RuleInput[] =>
  changesBetween(live, then).map(({ sign, row: { rule } }) =>
    sign === '−' ? { ...inputOf(rule), removed: true } : inputOf(rule),
  )
