import type { Condition, Effect, Place } from '../rule/rule.js'
import type { UseWord } from '../use/use-word.js'
import type { CasePages, PageGroup } from './case-pages.js'

/** An add-on as the next moves look at it. `pages` are those that were read and that it costs something. */
export interface AddOnCase {
  slug: string
  name: string
  kind: string
  active: boolean
  works: 'unseen' | 'once' | null
  /** Add-ons that need it. */
  neededBy: readonly string[]
  /** The site tells which content uses it. */
  told: boolean
  canSkip: boolean
  jobs: readonly string[]
  outsideHosts: readonly string[]
  features: readonly { name: string; on: boolean; uses?: number }[]
  verdict: string
  tableBytes: number
  /** Pages where it is in use or planned, read or not, that it may cost nothing. */
  usedOn: readonly string[]
  pages: CasePages
}

export type MoveType =
  | 'confine'
  | 'retire'
  | 'hold'
  | 'local'
  | 'same job'
  | 'features'
  | 'switched off'
  | 'pictures'
  | 'files'
  | 'nowhere'
  | 'first'

/** One thing to do next, with why, and what it would spare. */
export interface NextMove {
  /** The same move keeps its key from sweep to sweep. */
  key: string
  type: MoveType
  addon: string
  /** Others that it is about. */
  others: string[]
  reason: string
  certainty: 'the site says so' | 'readings with steps say so' | 'worth a look'
  /** Sums over the pages it touches. */
  spared: { pages: number; requests: number; transferBytes: number; serverMs: number; mainThreadMs: number }
  /** Bytes and time that come later instead of being spared. */
  postponed: boolean
  /** What the move is ranked by: ms of waiting in a thousand page views, see `waitingOf`. */
  waitingMs: number
  /** What one press drafts; none where only the site itself can do it. */
  rules: { addon: string; file?: string; effect: Effect; ahead?: true; place: Place; condition?: Condition }[]
}

/** 1.6 Mbit/s, a slow phone network: what a byte costs the one who waits. */
export const BYTES_PER_MS = 200
/** A removal that spares less than a millisecond a view is real, perhaps, but too small to matter. */
export const LEAST_WAITING_MS = 1000

/**
 * Waiting that visitors of some pages would be spared, in ms over a thousand page views of the whole site: server time, main
 * thread and transfer at 1.6 Mbit/s.
 */
export const waitingOf = ({ inThousand }: PageGroup): number =>
  inThousand.serverMs + inThousand.mainThreadMs + inThousand.transferBytes / BYTES_PER_MS

/**
 * The next moves, best first. Nothing that works unseen, is planned anywhere, or of whose use nothing is known on a page
 * is ever suggested for removal from that page; nor anything that another active add-on needs.
 */
export function nextMoves(cases: readonly AddOnCase[]): NextMove[] {
  const active = new Set(cases.filter((each) => each.active).map(({ slug }) => slug))
  const moves = cases.flatMap((each) => [
    ...switchedOff(each),
    ...(each.active
      ? [...removals(each, active), ...heavyOutsider(each), ...ownHost(each), ...idleFeatures(each)]
      : []),
  ])
  return [...moves, ...sameJob(cases, active)].sort((a, b) => b.waitingMs - a.waitingMs || a.key.localeCompare(b.key))
}

const DECIDED = ['keep', 'retire', 'confine', 'hold', 'replace']

/** Whether a page may be spared the add-on: it was looked for, and not seen. */
const mayGo = (word: UseWord) => word === 'not seen'
const isVisible = (_word: UseWord, isPublic: boolean) => isPublic

/** Whether its going could be suggested at all. */
export const isSafeToGo = (each: AddOnCase, active: ReadonlySet<string>): boolean =>
  each.works === null && each.kind !== 'theme' && !each.neededBy.some((slug) => active.has(slug))

function removals(each: AddOnCase, active: ReadonlySet<string>): NextMove[] {
  if (!isSafeToGo(each, active) || each.verdict === 'keep') return []
  const goes = (word: UseWord, isPublic: boolean) => isPublic && mayGo(word)
  const go = each.pages.of(goes)
  if (go.pages === 0 || each.pages.has((word) => word === 'planned')) return []
  const effect: Effect = each.canSkip ? 'skip' : 'leave-out'
  const nowhere = go.pages === each.pages.length && each.usedOn.length === 0
  const certainty = each.told ? 'the site says so' : 'readings with steps say so'
  const spared = sparedOn(go)
  const waitingMs = waitingOf(go)
  if (waitingMs < LEAST_WAITING_MS) return []
  if (nowhere)
    return [
      {
        ...base('retire', each, waitingMs, spared),
        certainty,
        reason: `Loaded on ${pagesWord(go.pages)}, seen in use on none.`,
        rules: [{ addon: each.slug, effect, place: { level: 'area', area: 'public' } }],
      },
    ]
  // Where some pages are not known, only those that are known to do without are touched.
  const allKnown = !each.pages.has((word, isPublic) => isPublic && !mayGo(word) && word !== 'used')
  return [
    {
      ...base('confine', each, waitingMs, spared),
      certainty,
      reason: `Loaded on ${pagesWord(each.pages.of(isVisible).pages)}, seen in use on ${each.usedOn.length}.`,
      rules: allKnown
        ? [
            { addon: each.slug, effect, place: { level: 'area', area: 'public' } },
            ...(each.usedOn.length > 0
              ? [{ addon: each.slug, effect: 'keep' as const, place: placeOf(each.usedOn) }]
              : []),
          ]
        : [{ addon: each.slug, effect, place: placeOf(each.pages.paths(goes)) }],
    },
  ]
}

/** Installed, doing nothing: no page gets lighter, but its code and tables stay behind until it is taken off. */
function switchedOff(each: AddOnCase): NextMove[] {
  if (each.active || each.verdict === 'keep' || each.verdict === 'retire' || each.works) return []
  return [
    {
      ...base('switched off', each, 0, NOTHING_SPARED),
      certainty: 'the site says so',
      reason: 'Switched off and still installed.',
      rules: [],
    },
  ]
}

function heavyOutsider(each: AddOnCase): NextMove[] {
  if (each.outsideHosts.length === 0 || each.kind === 'font' || each.works || DECIDED.includes(each.verdict)) return []
  const { group, mostMs } = each.pages.heavy
  if (group.pages === 0) return []
  return [
    {
      ...base('hold', each, waitingOf(group), sparedOn(group)),
      certainty: 'worth a look',
      postponed: true,
      reason: `Keeps the browser busy for up to ${Math.round(mostMs)} ms of a page with code of other hosts; it can wait until the page is idle.`,
      rules: [{ addon: each.slug, effect: 'hold', place: { level: 'area', area: 'public' } }],
    },
  ]
}

function ownHost(each: AddOnCase): NextMove[] {
  const all = each.pages.of()
  if (
    each.kind !== 'font' ||
    each.outsideHosts.length === 0 ||
    each.pages.length === 0 ||
    DECIDED.includes(each.verdict)
  )
    return []
  return [
    {
      ...base('local', each, 0, {
        ...NOTHING_SPARED,
        pages: all.pages,
      }),
      certainty: 'worth a look',
      // No byte is spared, so it ranks by the connection that every first view of a page waits for.
      waitingMs: all.inThousand.views * CONNECTION_MS,
      reason: `Typefaces from ${each.outsideHosts.join(', ')}: served by the own host, no visitor waits for another host or is known to it.`,
      rules: [{ addon: each.slug, effect: 'local', place: { level: 'everywhere' } }],
    },
  ]
}

/** A connection to one more host: name, handshake and encryption are about three round trips of 50 ms. */
const CONNECTION_MS = 150

/** Features that are switched on and that no content uses, of an add-on of which others are in use. */
export function idleFeaturesOf<F extends { on: boolean; uses?: number }>(
  each: Pick<AddOnCase, 'works' | 'verdict'> & { features: readonly F[] },
): F[] {
  if (each.works || each.verdict === 'keep') return []
  const idle = each.features.filter(({ on, uses }) => on && uses === 0)
  // With a single feature, or none in use, it is the add-on itself that is asked about.
  return idle.length < 2 || !each.features.some(({ uses }) => (uses ?? 0) > 0) ? [] : idle
}

function idleFeatures(each: AddOnCase): NextMove[] {
  const idle = idleFeaturesOf(each)
  if (idle.length === 0) return []
  return [
    {
      ...base('features', each, 0, NOTHING_SPARED),
      certainty: 'the site says so',
      reason: `${idle.length} of ${each.features.filter(({ on }) => on).length} features that are switched on are used on no page: ${listOf(idle.map(({ name }) => name))}.`,
      rules: [],
    },
  ]
}

/** Of add-ons that do one job the lighter may be enough, where the heavier does nothing else and is known on every page. */
function sameJob(cases: readonly AddOnCase[], active: ReadonlySet<string>): NextMove[] {
  const byJob = new Map<string, AddOnCase[]>()
  for (const each of cases)
    if (each.active) for (const job of each.jobs) byJob.set(job, [...(byJob.get(job) ?? []), each])
  return [...byJob].flatMap(([job, list]): NextMove[] => {
    if (list.length < 2 || list.every(({ verdict }) => verdict === 'keep')) return []
    const waiting = (each: AddOnCase) => waitingOf(each.pages.of())
    const sorted = [...list].sort((a, b) => waiting(b) - waiting(a))
    const heaviest = sorted[0]!
    const known =
      isSafeToGo(heaviest, active) &&
      heaviest.jobs.length === 1 &&
      heaviest.pages.length > 0 &&
      !heaviest.pages.has((word) => word !== 'used' && word !== 'not seen')
    return known && heaviest.verdict !== 'keep'
      ? [
          {
            ...base('same job', heaviest, waiting(heaviest), sparedOn(heaviest.pages.of())),
            key: `same job:${job}`,
            others: sorted.slice(1).map(({ slug }) => slug),
            certainty: 'worth a look',
            reason: `${sorted.map(({ name }) => name).join(' and ')} do one job: ${job}. This is the heavier.`,
            rules: [],
          },
        ]
      : []
  })
}

const base = (type: MoveType, each: AddOnCase, waitingMs: number, spared: NextMove['spared']) => ({
  key: `${type}:${each.slug}`,
  type,
  addon: each.slug,
  others: [] as string[],
  spared,
  postponed: false,
  waitingMs,
})

const sparedOn = ({ pages, requests, transferBytes, serverMs, mainThreadMs }: PageGroup): NextMove['spared'] => ({
  pages,
  requests,
  transferBytes,
  serverMs,
  mainThreadMs,
})
const NOTHING_SPARED = { pages: 0, requests: 0, transferBytes: 0, serverMs: 0, mainThreadMs: 0 }

const placeOf = (paths: readonly string[]): Place =>
  paths.length === 1 ? { level: 'page', path: paths[0]! } : { level: 'set', paths: [...paths] }

const pagesWord = (n: number) => `${n} ${n === 1 ? 'page' : 'pages'}`

const MOST_NAMED = 4
const listOf = (names: readonly string[]) =>
  names.length <= MOST_NAMED
    ? names.join(', ')
    : `${names.slice(0, MOST_NAMED).join(', ')} and ${names.length - MOST_NAMED} more`
