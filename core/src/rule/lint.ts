import { GOES } from '../rewrite/stop-list.js'
import { FindingList, type Parts } from './finding-list.js'
import type { LintFinding, LintKnown } from './lint-finding.js'
import { breedsOf, type Breed, type Breeds, type Group } from './page-breeds.js'
import { conditionHolds, placeCovers } from './place.js'
import { decideAddOn, type ResolvedEffect } from './resolve.js'
import { indexOf, type RuleIndex } from './rule-index.js'
import type { Rule, Visit } from './rule.js'

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
  private readonly breeds: Breeds
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
    this.findings = new FindingList(known.pages)
    this.breeds = breedsOf(known.pages, this.index)
  }

  run(): LintFinding[] {
    for (const breed of this.breeds.breeds) for (const visit of this.visits) this.look(breed, visit)
    for (const rule of this.rules) {
      this.nowhere(rule)
      this.unmeant(rule)
      this.outdated(rule)
      if (this.known.today !== undefined && rule.expires !== undefined && rule.expires < this.known.today)
        this.findings.add('expired', [rule.id], this.partsOf(rule), { do: 'remove', rules: [rule.id] }, rule.expires)
      if (rule.effect === 'local' && rule.copy?.licence === undefined && rule.copy?.content === undefined)
        this.findings.add('unlicensed', [rule.id], this.partsOf(rule), { do: 'license', rule: rule.id })
      const by = this.hiddenBy.get(rule.id)
      if (by !== undefined && this.matched.has(rule.id) && !this.decided.has(rule.id))
        this.findings.add('hidden', [rule.id, by], this.partsOf(rule), { do: 'remove', rules: [rule.id] })
    }
    return this.findings.inOrder()
  }

  private look(breed: Breed, visit: Visit): void {
    const { groups } = breed
    const broad = byAddOn(this.index.broadRules(breed).filter((rule) => conditionHolds(rule.condition, visit)))
    const gone = new Gone()
    groups.forEach((group, n) => {
      if (group.rules.length === 0) return
      const own = byAddOn(group.rules.filter((rule) => conditionHolds(rule.condition, visit)))
      for (const [addon, rules] of own)
        gone.decidedAnew(addon, n, this.decide([...(broad.get(addon) ?? []), ...rules], [group]))
    })
    for (const [addon, rules] of broad) {
      const anew = gone.anew.get(addon)
      if (anew?.size === groups.length) continue
      const effect = this.decide(rules, { [Symbol.iterator]: () => groupsWhere(groups, (n) => !anew?.has(n)) })
      if (effect) gone.everywhere.set(addon, effect)
    }
    this.needed(breed, gone)
    this.evidence(breed, gone, visit)
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
    if (whole && GOES.has(whole.effect)) return whole
    return this.allFilesGo(effects)
  }

  /** Whose files all go one by one is as good as gone. */
  private allFilesGo(effects: readonly ResolvedEffect[]): ResolvedEffect | null {
    const going = effects.filter(({ file, effect }) => file !== undefined && GOES.has(effect))
    const [first] = going
    const files = first && this.known.files && own(this.known.files, first.addon)
    if (!files || files.length === 0) return null
    const names = new Set(going.map(({ file }) => file))
    return files.every((file) => names.has(file)) ? first : null
  }

  /** Something that is kept needs what goes. Which add-ons a page has is known only where it was read. */
  private needed({ groups }: Breed, gone: Gone): void {
    const { arrives, pages } = this.known
    for (const [addon, needs] of Object.entries(this.known.needs ?? {}))
      for (const library of needs) {
        if (!gone.mayBe(library)) continue
        const byEffect = new Map<ResolvedEffect, (Group | number)[]>()
        groups.forEach((group, n) => {
          const effect = gone.on(library, n)
          if (!effect || gone.on(addon, n)) return
          let where = byEffect.get(effect)
          if (!where) byEffect.set(effect, (where = []))
          if (!arrives) where.push(group)
          else for (const page of group.pages) if (arrives.get(pages[page]!.path)?.has(addon) ?? true) where.push(page)
        })
        for (const [effect, where] of byEffect) {
          if (where.length === 0) continue
          const wayOut = { do: 'unload-too' as const, addons: [addon] }
          this.findings.add('needed', effect.rules, where, wayOut, `${addon} needs ${library}`)
        }
      }
  }

  private evidence({ groups }: Breed, gone: Gone, visit: Visit): void {
    const { inUse, arrives, pages } = this.known
    if (!inUse && !arrives) return
    // Pages are read as somebody at a desk who is not signed in.
    const isRead = visit.device === 'desk' && visit.visitor === 'signed-out'
    groups.forEach((group, n) => {
      for (const page of group.pages) {
        const { path } = pages[page]!
        for (const addon of inUse?.get(path) ?? []) {
          const effect = gone.on(addon, n)
          if (effect) this.findings.add('in-use', effect.rules, [page], { do: 'keep', addon, pages: [path] })
        }
        for (const addon of (isRead && arrives?.get(path)) || []) {
          const effect = gone.on(addon, n)
          if (effect) this.findings.add('still-arrives', effect.rules, [page], { do: 'check', addon })
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

  private readonly areasOf = new Map<string, { office: (Group | number)[]; isElsewhere: boolean }>()

  /** What of a rule's place lies in the back office, and whether all of it does. */
  private areas(rule: Rule): { office: (Group | number)[]; isElsewhere: boolean } {
    const key = JSON.stringify(rule.place)
    let known = this.areasOf.get(key)
    if (!known) {
      const parts = this.partsOf(rule)
      const areaOf = (part: Group | number) => (typeof part === 'number' ? this.known.pages[part]! : part.page).area
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

  private readonly covered = new Map<string, readonly (Group | number)[]>()

  /** The pages a rule is about, as far as there are any. */
  private partsOf({ place }: Rule): readonly (Group | number)[] {
    const key = JSON.stringify(place)
    let parts = this.covered.get(key)
    if (!parts) {
      parts = PAGE_LEVELS.has(place.level) ? this.namedPages(place) : this.groupsOf(place)
      this.covered.set(key, parts)
    }
    return parts
  }

  private namedPages(place: Rule['place']): number[] {
    const named = place.level === 'page' ? [place.path] : place.level === 'set' ? place.paths : []
    return [...new Set(named)].flatMap((path) => this.breeds.numberOf.get(path) ?? [])
  }

  private groupsOf(place: Rule['place']): readonly Group[] {
    if (place.level === 'path') return this.breeds.byPattern.get(place.pattern) ?? []
    return this.breeds.breeds.flatMap(({ kind, area, groups }) =>
      placeCovers(place, { path: '', kind, area }) ? groups : [],
    )
  }
}

/** What goes on the groups of one breed, for one visit. */
class Gone {
  /** By add-on, for the groups whose paths have rules for it: what goes of it there. */
  readonly anew = new Map<string, Map<number, ResolvedEffect | null>>()
  /** By add-on, on all other groups. */
  readonly everywhere = new Map<string, ResolvedEffect>()

  decidedAnew(addon: string, group: number, effect: ResolvedEffect | null): void {
    let groups = this.anew.get(addon)
    if (!groups) this.anew.set(addon, (groups = new Map<number, ResolvedEffect | null>()))
    groups.set(group, effect)
  }

  mayBe(addon: string): boolean {
    return this.everywhere.has(addon) || this.anew.has(addon)
  }

  /** The effect by which all of an add-on goes on a group. */
  on(addon: string, group: number): ResolvedEffect | undefined {
    const own = this.anew.get(addon)?.get(group)
    return own === undefined ? this.everywhere.get(addon) : (own ?? undefined)
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
