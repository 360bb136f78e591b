import type { CasePages } from '../standing/case-pages.js'
import { isSafeToGo, waitingOf, type AddOnCase } from '../standing/next-moves.js'

export const CANDIDATE_REASONS = [
  'switched off',
  'used nowhere',
  'used on few pages',
  'job done twice',
  'waits for outsiders',
  'decided',
  'not updated',
] as const
export type CandidateReason = (typeof CANDIDATE_REASONS)[number]

/** An add-on as candidates are looked for: what it costs and is used for, and what lies on the disk. */
export interface RetireCase extends AddOnCase {
  /** Its files on the server. */
  diskBytes: number
  tables: readonly { name: string; rows: number; bytes: number }[]
  settings: number
  tasks: readonly string[]
  /** When its installed version came onto the site; null where nobody knows. */
  since: Date | null
  /** Hosts outside that it loads from which did not answer, or took long. */
  waitsFor: readonly { host: string; usualMs: number; failed: number }[]
  /** Why somebody has decided that it goes, or gives way to another; null where nobody has. */
  decided: string | null
}

/** Costs in a thousand page views of the whole site, each page by its share of the visits. Bytes, ms and counts. */
export interface PerThousand {
  requests: number
  transferBytes: number
  serverMs: number
  mainThreadMs: number
  /** See `waitingOf`. */
  waitingMs: number
}

/** An add-on that may go for good. */
export interface Candidate {
  addon: string
  name: string
  reasons: { kind: CandidateReason; about: string[] }[]
  certainty: 'the site says so' | 'readings with steps say so' | 'worth a look'
  perThousand: PerThousand
  /** Pages where it is in use or planned. */
  usedOn: readonly string[]
  diskBytes: number
  tableBytes: number
  /** Rows that would go with its tables. */
  rows: number
  settings: number
  tasks: readonly string[]
}

/** What has to be asked before anything can be said. */
export interface RetireQuestion {
  addon: string
  name: string
  why: 'works unseen' | 'planned' | 'needed' | 'use not known'
  about: string[]
}

/** Used on no more of its pages than this it is few. */
const FEW_SHARE = 0.1
const LEAST_PAGES_FOR_FEW = 10
const OLD_DAYS = 730
/** An answer that takes so long keeps whoever waits for it. */
const SLOW_MS = 1_000

/**
 * Which add-ons may go, the most waiting first; and those of which that can't be said, as questions. What works unseen, is planned
 * anywhere, is needed by another active one, or of whose use nothing is known is never a candidate; nor is what somebody decided to
 * keep, or the theme.
 */
export function retireCandidates(
  cases: readonly RetireCase[],
  now: Date,
): { candidates: Candidate[]; questions: RetireQuestion[] } {
  const active = new Set(cases.filter((each) => each.active).map(({ slug }) => slug))
  const candidates: Candidate[] = []
  const questions: RetireQuestion[] = []
  for (const each of cases) {
    if (each.verdict === 'keep' || each.kind === 'theme' || each.kind === 'built-in') continue
    const reasons = reasonsFor(each, cases, now)
    if (reasons.length === 0) continue
    const question = whyAsked(each, active)
    if (question) questions.push({ addon: each.slug, name: each.name, ...question })
    else if (isSafeToGo(each, active)) candidates.push(candidateOf(each, reasons))
  }
  const byCost = (a: Candidate, b: Candidate) =>
    b.perThousand.waitingMs - a.perThousand.waitingMs ||
    b.tableBytes + b.diskBytes - a.tableBytes - a.diskBytes ||
    a.name.localeCompare(b.name)
  return { candidates: candidates.sort(byCost), questions: questions.sort((a, b) => a.name.localeCompare(b.name)) }
}

function reasonsFor(each: RetireCase, cases: readonly RetireCase[], now: Date): Candidate['reasons'] {
  const reasons: Candidate['reasons'] = []
  const say = (kind: CandidateReason, ...about: string[]) => reasons.push({ kind, about })
  if (!each.active) say('switched off')
  const costly = each.pages.of((_, isPublic) => isPublic).pages
  if (each.active && each.usedOn.length === 0 && costly > 0) say('used nowhere')
  if (
    each.active &&
    each.usedOn.length > 0 &&
    costly >= LEAST_PAGES_FOR_FEW &&
    each.usedOn.length <= FEW_SHARE * costly
  )
    say('used on few pages', ...each.usedOn)
  for (const job of each.active ? each.jobs : []) {
    const others = cases.filter((other) => other !== each && other.active && other.jobs.includes(job))
    if (others.length > 0) say('job done twice', job, ...others.map(({ name }) => name))
  }
  const down = each.waitsFor.filter(({ failed }) => failed > 0).map(({ host }) => host)
  const slow = each.waitsFor.filter(({ failed, usualMs }) => failed === 0 && usualMs >= SLOW_MS)
  if (each.active && down.length > 0) say('waits for outsiders', 'no answer', ...down)
  else if (each.active && slow.length > 0)
    say(
      'waits for outsiders',
      String(Math.round(Math.max(...slow.map(({ usualMs }) => usualMs)))),
      ...slow.map(({ host }) => host),
    )
  if (each.decided !== null) say('decided', each.decided)
  const days = each.since ? Math.floor((now.getTime() - each.since.getTime()) / 86_400_000) : 0
  // Age alone is no reason to go; beside another it is one more.
  if (reasons.length > 0 && days > OLD_DAYS) say('not updated', String(days))
  return reasons
}

function whyAsked(each: RetireCase, active: ReadonlySet<string>): Pick<RetireQuestion, 'why' | 'about'> | null {
  if (each.works !== null) return { why: 'works unseen', about: [] }
  const planned = each.pages.paths((word) => word === 'planned')
  if (planned.length > 0) return { why: 'planned', about: planned }
  const needing = each.neededBy.filter((slug) => active.has(slug))
  if (needing.length > 0) return { why: 'needed', about: needing }
  // Switched off it is used by nobody, whatever is known.
  const mayBeUsed = each.active && each.usedOn.length === 0
  const dark = mayBeUsed ? each.pages.paths((word, isPublic) => word === 'unknown' && isPublic) : []
  return dark.length > 0 ? { why: 'use not known', about: dark } : null
}

function candidateOf(each: RetireCase, reasons: Candidate['reasons']): Candidate {
  return {
    addon: each.slug,
    name: each.name,
    reasons,
    certainty:
      !each.active || each.told
        ? 'the site says so'
        : each.usedOn.length === 0
          ? 'readings with steps say so'
          : 'worth a look',
    perThousand: perThousand(each.pages),
    usedOn: each.usedOn,
    diskBytes: each.diskBytes,
    tableBytes: each.tableBytes,
    rows: each.tables.reduce((sum, { rows }) => sum + rows, 0),
    settings: each.settings,
    tasks: each.tasks,
  }
}

/** What its pages cost in a thousand page views. */
export function perThousand(pages: CasePages): PerThousand {
  const all = pages.of()
  const { requests, transferBytes, serverMs, mainThreadMs } = all.inThousand
  return { requests, transferBytes, serverMs, mainThreadMs, waitingMs: waitingOf(all) }
}
