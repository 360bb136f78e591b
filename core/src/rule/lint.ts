import { GOES } from '../rewrite/stop-list.js'
import { FindingList, type Parts } from './finding-list.js'
import type { LintFinding, LintKnown } from './lint-finding.js'
import type { Breed, Group } from './page-breeds.js'
import { conditionHolds, placeCovers } from './place.js'
import { decideAddOn, type ResolvedEffect } from './resolve.js'
import { indexOf, type RuleIndex } from './rule-index.js'
import type { Rule, RulePage, Visit } from './rule.js'

const PAGE_LEVELS = new Set(['page', 'set'])

/** Everything that is wrong with a set of rules taken together, the worst first. */
export function lint(rules: readonly Rule[], known: LintKnown): LintFinding[] {
  return new Linter(rules, known).run()
}

/**
 * Rules for kinds, areas and everything are decided once for all pages of a breed; of a page with rules for its path only the
 * add-ons of those rules are decided anew.
 */
class Linter {
  private readonly index: RuleIndex
  private readonly breeds: Breed[]
  private readonly visits: Visit[]
  private readonly findings: FindingList
  private readonly matched = new Set<string>()
  private readonly decided = new Set<string>()
  private readonly hiddenBy = new Map<string, string>()

  constructor(
    private readonly rules: readonly Rule[],
    private readonly known: LintKnown,
  ) {
    this.index = indexOf(rules)
    this.visits = visitsThatMatter(rules)
    this.findings = new FindingList(this.visits.length === 1)
    this.breeds = this.bred()
  }

  run(): LintFinding[] {
    for (const breed of this.breeds) for (const visit of this.visits) this.look(breed, visit)
    for (const rule of this.rules) {
      this.nowhere(rule)
      this.unmeant(rule)
      this.outdated(rule)
      if (this.known.today !== undefined && rule.expires !== undefined && rule.expires < this.known.today)
        this.findings.add('expired', [rule.id], this.partsOf(rule), { do: 'remove', rules: [rule.id] }, rule.expires)
      const by = this.hiddenBy.get(rule.id)
      if (by !== undefined && this.matched.has(rule.id) && !this.decided.has(rule.id))
        this.findings.add('hidden', [rule.id, by], this.partsOf(rule), { do: 'remove', rules: [rule.id] })
    }
    return this.findings.inOrder()
  }

  private look(breed: Breed, visit: Visit): void {
    const broad = byAddOn(this.index.broadRules(breed).filter((rule) => conditionHolds(rule.condition, visit)))
    /** Of each group the add-ons that its paths have rules for, with what goes of them there. */
    const anew = breed.groups.map((group) => {
      const own = byAddOn(group.rules.filter((rule) => conditionHolds(rule.condition, visit)))
      const goes = new Map<string, ResolvedEffect | null>()
      for (const [addon, rules] of own) goes.set(addon, this.decide([...(broad.get(addon) ?? []), ...rules], [group]))
      return goes
    })
    const decidedAnew = new Map<string, number>()
    for (const goes of anew) for (const addon of goes.keys()) decidedAnew.set(addon, (decidedAnew.get(addon) ?? 0) + 1)
    const everywhere = new Map<string, ResolvedEffect>()
    for (const [addon, rules] of broad) {
      if (decidedAnew.get(addon) === breed.groups.length) continue
      const parts = { [Symbol.iterator]: () => groupsWhere(breed.groups, (n) => !anew[n]!.has(addon)) }
      const gone = this.decide(rules, parts)
      if (gone) everywhere.set(addon, gone)
    }
    const goneOn = (addon: string, group: number) => {
      const own = anew[group]!.get(addon)
      return own === undefined ? everywhere.get(addon) : (own ?? undefined)
    }
    this.needed(breed, goneOn, (addon) => everywhere.has(addon) || decidedAnew.has(addon))
    this.evidence(breed, goneOn, visit)
  }

  /** Decides what holds of one add-on on some pages. @returns Its effect where all of it goes. */
  private decide(rules: readonly Rule[], parts: Parts): ResolvedEffect | null {
    const effects = decideAddOn(rules)
    let whole: ResolvedEffect | null = null
    for (const effect of effects) {
      const { rules: ids, conflictsWith } = effect
      for (const id of ids) this.decided.add(id)
      for (const id of conflictsWith) this.decided.add(id)
      if (conflictsWith.length > 0) {
        const all = [...ids, ...conflictsWith]
        this.findings.add('conflict', all, parts, { do: 'choose', rules: all })
      }
      if (isWhole(effect)) whole = effect
    }
    for (const rule of rules) {
      this.matched.add(rule.id)
      if (this.decided.has(rule.id) || this.hiddenBy.has(rule.id)) continue
      // What is overruled on these pages may decide on others.
      const by = effects.find((effect) => targetOf(effect) === targetOf(rule)) ?? whole
      if (by) this.hiddenBy.set(rule.id, by.rules[0]!)
    }
    return whole && GOES.has(whole.effect) ? whole : null
  }

  /** Something that is kept needs what goes. Which add-ons a page has is known only where it was read. */
  private needed(
    { groups }: Breed,
    goneOn: (addon: string, group: number) => ResolvedEffect | undefined,
    mayGo: (addon: string) => boolean,
  ): void {
    for (const [addon, needs] of Object.entries(this.known.needs ?? {}))
      for (const library of needs.filter(mayGo))
        groups.forEach(({ paths }, n) => {
          const effect = goneOn(library, n)
          if (!effect || goneOn(addon, n)) return
          const { arrives } = this.known
          const where = arrives ? paths.filter((path) => arrives.get(path)?.has(addon) ?? true) : paths
          if (where.length > 0)
            this.findings.add(
              'needed',
              effect.rules,
              where,
              { do: 'unload-too', addons: [addon] },
              `${addon} needs ${library}`,
            )
        })
  }

  private evidence(
    { groups }: Breed,
    goneOn: (addon: string, group: number) => ResolvedEffect | undefined,
    visit: Visit,
  ): void {
    const { inUse, arrives } = this.known
    if (!inUse && !arrives) return
    // Pages are read as somebody at a desk who is not signed in.
    const isRead = visit.device === 'desk' && visit.visitor === 'signed-out'
    groups.forEach(({ paths }, n) => {
      for (const path of paths) {
        for (const addon of inUse?.get(path) ?? []) {
          const gone = goneOn(addon, n)
          if (gone) this.findings.add('in-use', gone.rules, [path], { do: 'keep', addon, pages: [path] })
        }
        for (const addon of (isRead && arrives?.get(path)) || []) {
          const gone = goneOn(addon, n)
          if (gone) this.findings.add('still-arrives', gone.rules, [path], { do: 'check', addon })
        }
      }
    })
  }

  private nowhere(rule: Rule): void {
    const files = this.known.files && own(this.known.files, rule.addon)
    const hasNoFile = rule.file !== undefined && files !== undefined && !files.includes(rule.file)
    if (!hasNoFile && (this.matched.has(rule.id) || this.partsOf(rule).length > 0)) return
    this.findings.add(
      'nowhere',
      [rule.id],
      [],
      { do: 'remove', rules: [rule.id] },
      hasNoFile ? `no file ${rule.file}` : 'no page',
    )
  }

  /** A rule that says nothing of areas, and catches the back office beside the public pages. */
  private unmeant(rule: Rule): void {
    const { level } = rule.place
    if (level === 'area' || PAGE_LEVELS.has(level) || rule.effect === 'keep') return
    if (rule.condition?.visitor === 'signed-out') return
    const { office, isElsewhere } = this.areas(rule)
    if (office.length > 0 && isElsewhere)
      this.findings.add('unmeant', [rule.id], office, { do: 'confine', rule: rule.id, to: 'public' })
  }

  private readonly areasOf = new Map<string, { office: (Group | string)[]; isElsewhere: boolean }>()

  /** What of a rule's place lies in the back office, and whether all of it does. */
  private areas(rule: Rule): { office: (Group | string)[]; isElsewhere: boolean } {
    const key = JSON.stringify(rule.place)
    let known = this.areasOf.get(key)
    if (!known) {
      const parts = this.partsOf(rule)
      const areaOf = (part: Group | string) => (typeof part === 'string' ? this.areaOf.get(part) : part.page.area)
      const office = parts.filter((part) => areaOf(part) === 'office')
      known = { office, isElsewhere: office.length < parts.length }
      this.areasOf.set(key, known)
    }
    return known
  }

  private outdated(rule: Rule): void {
    const written = own(this.known.writtenFor ?? {}, rule.id) ?? rule.madeFor
    const version = own(this.known.versions ?? {}, rule.addon)
    if (written === undefined || version === undefined || written === version) return
    const about = `written for ${written}, now ${version}`
    this.findings.add('outdated', [rule.id], this.partsOf(rule), { do: 'confirm', rule: rule.id, version }, about)
  }

  private readonly covered = new Map<string, (Group | string)[]>()
  private readonly areaOf = new Map<string, RulePage['area']>()

  /** The pages a rule is about, as far as there are any. */
  private partsOf({ place }: Rule): (Group | string)[] {
    const key = JSON.stringify(place)
    let paths = this.covered.get(key)
    if (!paths) {
      paths = PAGE_LEVELS.has(place.level) ? this.namedPaths(place) : this.groupsOf(place)
      this.covered.set(key, paths)
    }
    return paths
  }

  private namedPaths(place: Rule['place']): string[] {
    const named = place.level === 'page' ? [place.path] : place.level === 'set' ? place.paths : []
    return [...new Set(named)].filter((path) => this.areaOf.has(path))
  }

  private groupsOf(place: Rule['place']): (Group | string)[] {
    if (place.level === 'path') return [...(this.byPattern.get(place.pattern) ?? [])]
    return this.breeds.flatMap(({ kind, area, groups }) => (placeCovers(place, { path: '', kind, area }) ? groups : []))
  }

  private readonly byPattern = new Map<string, Set<string>>()

  private bred(): Breed[] {
    interface Entry {
      breed: Breed
      groups: Map<string, Group>
    }
    const breeds = new Map<string, Entry>()
    for (const page of this.known.pages) {
      const key = `${page.area} ${page.kind}`
      const entry: Entry = breeds.get(key) ?? {
        breed: { kind: page.kind, area: page.area, groups: [] },
        groups: new Map(),
      }
      breeds.set(key, entry)
      const groupKey = this.index.pathKey(page.path)
      let group = entry.groups.get(groupKey)
      if (!group) {
        group = { page, paths: [], rules: groupKey === '' ? [] : this.index.pathRules(page.path) }
        entry.groups.set(groupKey, group)
        entry.breed.groups.push(group)
      }
      group.paths.push(page.path)
      this.areaOf.set(page.path, page.area)
      for (const { place } of group.rules) {
        if (place.level !== 'path') continue
        const covered = this.byPattern.get(place.pattern) ?? new Set<string>()
        this.byPattern.set(place.pattern, covered.add(page.path))
      }
    }
    return [...breeds.values()].map(({ breed }) => breed)
  }
}

function* groupsWhere(groups: readonly Group[], isMeant: (group: number) => boolean): Generator<Group> {
  for (let n = 0; n < groups.length; n++) if (isMeant(n)) yield groups[n]!
}

function byAddOn(rules: readonly Rule[]): Map<string, Rule[]> {
  const found = new Map<string, Rule[]>()
  for (const rule of rules) {
    const list = found.get(rule.addon)
    if (list) list.push(rule)
    else found.set(rule.addon, [rule])
  }
  return found
}

type Target = Pick<Rule, 'addon' | 'feature' | 'file' | 'setting'>

const isWhole = ({ feature, file, setting }: Target) =>
  feature === undefined && file === undefined && setting === undefined
const targetOf = ({ addon, feature, file, setting }: Target) =>
  `${addon}\n${feature ?? ''}\n${file ?? ''}\n${setting ?? ''}`
const own = <T>(record: Record<string, T>, key: string): T | undefined =>
  Object.hasOwn(record, key) ? record[key] : undefined

/** Visits that at least one rule tells apart. */
function visitsThatMatter(rules: readonly Rule[]): Visit[] {
  const devices = rules.some(({ condition }) => condition?.device)
    ? (['desk', 'handset'] as const)
    : (['desk'] as const)
  const visitors = rules.some(({ condition }) => condition?.visitor)
    ? (['signed-out', 'signed-in'] as const)
    : (['signed-out'] as const)
  return devices.flatMap((device) => visitors.map((visitor) => ({ device, visitor })))
}
