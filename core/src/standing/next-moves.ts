import type { Condition, Effect, Place } from '../rule/rule.js'
import type { UseWord } from '../use/use-word.js'

/** What an add-on costs on one page, and what is known of its use there. Bytes, ms and counts. */
export interface PageCase {
  pageId: number
  path: string
  area: 'public' | 'office'
  /** Page views in thirty days; null where not known. */
  views: number | null
  word: UseWord
  transferBytes: number
  serverMs: number
  mainThreadMs: number
  requests: number
}

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
  pages: readonly PageCase[]
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
const VISITS = 1000
/** A removal that spares less than a millisecond a view is real, perhaps, but too small to matter. */
export const LEAST_WAITING_MS = VISITS
/** Code of an outsider that works for this long on the main thread is worth holding. In ms. */
const HEAVY_MS = 20

/**
 * Waiting that a page's visitors would be spared, in ms over a thousand page views of the whole site: server time, main
 * thread and transfer at 1.6 Mbit/s, each page by its share of the visits. Without known visits all pages weigh the same.
 */
export function waitingOf(pages: readonly PageCase[], views: { total: number; pages: number }): number {
  return pages.reduce((sum, page) => {
    const share = views.total > 0 ? (page.views ?? 0) / views.total : 1 / Math.max(1, views.pages)
    return sum + (page.serverMs + page.mainThreadMs + page.transferBytes / BYTES_PER_MS) * share * VISITS
  }, 0)
}

/**
 * The next moves, best first. Nothing that works unseen, is planned anywhere, or of whose use nothing is known on a page
 * is ever suggested for removal from that page; nor anything that another active add-on needs.
 */
export function nextMoves(cases: readonly AddOnCase[], views: { total: number; pages: number }): NextMove[] {
  const active = new Set(cases.filter((each) => each.active).map(({ slug }) => slug))
  const moves = cases.flatMap((each) => [
    ...switchedOff(each),
    ...(each.active
      ? [
          ...removals(each, active, views),
          ...heavyOutsider(each, views),
          ...ownHost(each, views),
          ...idleFeatures(each),
        ]
      : []),
  ])
  return [...moves, ...sameJob(cases, active, views)].sort(
    (a, b) => b.waitingMs - a.waitingMs || a.key.localeCompare(b.key),
  )
}

const DECIDED = ['keep', 'retire', 'confine', 'hold', 'replace']

/** Whether a page may be spared the add-on: it was looked for, and not seen. */
const mayGo = ({ word }: PageCase) => word === 'not seen'

/** Whether its going could be suggested at all. */
export const isSafeToGo = (each: AddOnCase, active: ReadonlySet<string>): boolean =>
  each.works === null && each.kind !== 'theme' && !each.neededBy.some((slug) => active.has(slug))

function removals(each: AddOnCase, active: ReadonlySet<string>, views: { total: number; pages: number }): NextMove[] {
  if (!isSafeToGo(each, active) || each.verdict === 'keep') return []
  const visible = each.pages.filter(({ area }) => area === 'public')
  const go = visible.filter(mayGo)
  if (go.length === 0 || each.pages.some(({ word }) => word === 'planned')) return []
  const effect: Effect = each.canSkip ? 'skip' : 'leave-out'
  const nowhere = go.length === each.pages.length && each.usedOn.length === 0
  const certainty = each.told ? 'the site says so' : 'readings with steps say so'
  const spared = sparedOn(go)
  const waitingMs = waitingOf(go, views)
  if (waitingMs < LEAST_WAITING_MS) return []
  if (nowhere)
    return [
      {
        ...base('retire', each, waitingMs, spared),
        certainty,
        reason: `Loaded on ${pagesWord(go.length)}, seen in use on none.`,
        rules: [{ addon: each.slug, effect, place: { level: 'area', area: 'public' } }],
      },
    ]
  // Where some pages are not known, only those that are known to do without are touched.
  const rest = visible.filter((page) => !mayGo(page))
  const allKnown = rest.every(({ word }) => word === 'used')
  return [
    {
      ...base('confine', each, waitingMs, spared),
      certainty,
      reason: `Loaded on ${pagesWord(visible.length)}, seen in use on ${each.usedOn.length}.`,
      rules: allKnown
        ? [
            { addon: each.slug, effect, place: { level: 'area', area: 'public' } },
            ...(each.usedOn.length > 0
              ? [{ addon: each.slug, effect: 'keep' as const, place: placeOf(each.usedOn) }]
              : []),
          ]
        : [{ addon: each.slug, effect, place: placeOf(go.map(({ path }) => path)) }],
    },
  ]
}

/** Installed, doing nothing: no page gets lighter, but its code and tables stay behind until it is taken off. */
function switchedOff(each: AddOnCase): NextMove[] {
  if (each.active || each.verdict === 'keep' || each.verdict === 'retire' || each.works) return []
  return [
    {
      ...base('switched off', each, 0, sparedOn([])),
      certainty: 'the site says so',
      reason: 'Switched off and still installed.',
      rules: [],
    },
  ]
}

function heavyOutsider(each: AddOnCase, views: { total: number; pages: number }): NextMove[] {
  if (each.outsideHosts.length === 0 || each.kind === 'font' || each.works || DECIDED.includes(each.verdict)) return []
  const heavy = each.pages.filter(
    (page) => page.area === 'public' && page.mainThreadMs >= HEAVY_MS && page.word !== 'not seen',
  )
  if (heavy.length === 0) return []
  const ms = Math.max(...heavy.map(({ mainThreadMs }) => mainThreadMs))
  return [
    {
      ...base('hold', each, waitingOf(heavy, views), sparedOn(heavy)),
      certainty: 'worth a look',
      postponed: true,
      reason: `Keeps the browser busy for up to ${Math.round(ms)} ms of a page with code of other hosts; it can wait until the page is idle.`,
      rules: [{ addon: each.slug, effect: 'hold', place: { level: 'area', area: 'public' } }],
    },
  ]
}

function ownHost(each: AddOnCase, views: { total: number; pages: number }): NextMove[] {
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
        ...sparedOn(each.pages),
        transferBytes: 0,
        requests: 0,
        serverMs: 0,
        mainThreadMs: 0,
      }),
      certainty: 'worth a look',
      // No byte is spared, so it ranks by the connection that every first view of a page waits for.
      waitingMs: waitingOf(
        each.pages.map((page) => ({ ...page, transferBytes: 0, mainThreadMs: CONNECTION_MS, serverMs: 0 })),
        views,
      ),
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
      ...base('features', each, 0, sparedOn([])),
      certainty: 'the site says so',
      reason: `${idle.length} of ${each.features.filter(({ on }) => on).length} features that are switched on are used on no page: ${listOf(idle.map(({ name }) => name))}.`,
      rules: [],
    },
  ]
}

/** Of add-ons that do one job the lighter may be enough, where the heavier does nothing else and is known on every page. */
function sameJob(
  cases: readonly AddOnCase[],
  active: ReadonlySet<string>,
  views: { total: number; pages: number },
): NextMove[] {
  const byJob = new Map<string, AddOnCase[]>()
  for (const each of cases)
    if (each.active) for (const job of each.jobs) byJob.set(job, [...(byJob.get(job) ?? []), each])
  return [...byJob].flatMap(([job, list]): NextMove[] => {
    if (list.length < 2 || list.every(({ verdict }) => verdict === 'keep')) return []
    const waiting = (each: AddOnCase) => waitingOf(each.pages, views)
    const sorted = [...list].sort((a, b) => waiting(b) - waiting(a))
    const heaviest = sorted[0]!
    const known =
      isSafeToGo(heaviest, active) &&
      heaviest.jobs.length === 1 &&
      heaviest.pages.length > 0 &&
      heaviest.pages.every(({ word }) => word === 'used' || word === 'not seen')
    return known && heaviest.verdict !== 'keep'
      ? [
          {
            ...base('same job', heaviest, waiting(heaviest), sparedOn(heaviest.pages)),
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

function sparedOn(pages: readonly PageCase[]): NextMove['spared'] {
  const sum = (of: (page: PageCase) => number) => pages.reduce((all, page) => all + of(page), 0)
  return {
    pages: pages.length,
    requests: sum(({ requests }) => requests),
    transferBytes: sum(({ transferBytes }) => transferBytes),
    serverMs: sum(({ serverMs }) => serverMs),
    mainThreadMs: sum(({ mainThreadMs }) => mainThreadMs),
  }
}

const placeOf = (paths: readonly string[]): Place =>
  paths.length === 1 ? { level: 'page', path: paths[0]! } : { level: 'set', paths: [...paths] }

const pagesWord = (n: number) => `${n} ${n === 1 ? 'page' : 'pages'}`

const MOST_NAMED = 4
const listOf = (names: readonly string[]) =>
  names.length <= MOST_NAMED
    ? names.join(', ')
    : `${names.slice(0, MOST_NAMED).join(', ')} and ${names.length - MOST_NAMED} more`
