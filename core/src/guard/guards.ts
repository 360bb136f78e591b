import { gone, isNew } from './steady.js'
import type { Landmark, GuardLook } from './guard-look.js'

/** Guards that are always on, in the order in which they are told. */
export const GUARDS = [
  'answer',
  'errors',
  'requests',
  'layout',
  'shift',
  'picture',
  'links',
  'fields',
  'controls',
  'steps',
] as const
export type GuardName = (typeof GUARDS)[number]

/**
 * What a guard found. `aside`: the page is never twice the same in this, so nothing can be said. `unknown`: there was nothing
 * to look at on either side.
 */
export interface GuardResult {
  guard: GuardName
  outcome: 'holds' | 'fails' | 'aside' | 'unknown'
  /** What is there without the rules and not with them, bounded. */
  gone: string[]
  /** What came with the rules. */
  came: string[]
  /** Steps that fail without the rules as well, which is nobody's fault here. */
  anyway?: string[]
  /** How much differs, where that is what was looked at: a share of the picture, or the layout shift; no unit. */
  size?: number
}

/** A landmark may move and change by so much: CSS pixels, and a share of its own size. */
const MOVED_PX = 40
const MOVED_SHARE = 0.2
/** Smaller ones have no layout to lose. */
const LEAST_PX = 8
/** What browsers call a good page is below 0.1 (Web Vitals); a tenth of that is no shift to speak of. */
const LEAST_SHIFT = 0.01
const MOST_TOLD = 50
const CHANGED_PIXELS = 0.005

/**
 * Compares what a page shows without rules and with them. What differs between the readings without rules is the page's own
 * doing and is held against nobody, so more than one of them should be given; and what the rules are blamed for must
 * show in all of the readings with them where something is missed, and in more than half where something came.
 * @param changed Shares of the picture's pixels that differ beyond what differs by itself, 0 to 1, one for each reading with
 *   rules; null where there is no picture, or none twice the same.
 */
export function judgeGuards(
  without: readonly GuardLook[],
  withRules: readonly GuardLook[],
  changed: 'aside' | null | readonly number[] = null,
): GuardResult[] {
  if (without.length === 0 || withRules.length === 0) return []
  const lists = (of: (look: GuardLook) => readonly string[]) => ({
    gone: gone(without.map(of), withRules.map(of)),
    came: isNew(without.map(of), withRules.map(of)),
  })
  const told = (guard: GuardName, found: { gone?: string[]; came?: string[] }, knows = true): GuardResult => {
    const lost = found.gone ?? []
    const came = found.came ?? []
    const fails = lost.length + came.length > 0
    return {
      guard,
      outcome: fails ? 'fails' : knows ? 'holds' : 'unknown',
      gone: lost.slice(0, MOST_TOLD),
      came: came.slice(0, MOST_TOLD),
    }
  }
  const has = (of: (look: GuardLook) => readonly unknown[]) => without.some((look) => of(look).length > 0)
  return [
    told(
      'answer',
      lists((look) => [`status ${look.status ?? 'none'}`, `title ${look.title}`, `address ${look.path}`]),
    ),
    told('errors', { came: lists((look) => look.errors).came }),
    told('requests', { came: lists((look) => look.failed).came }),
    told(
      'layout',
      { gone: lostLandmarks(without, withRules) },
      has((look) => look.landmarks),
    ),
    shiftGuard(without, withRules),
    pictureGuard(changed),
    told(
      'links',
      { gone: lists((look) => look.links).gone },
      has((look) => look.links),
    ),
    told(
      'fields',
      { gone: lists((look) => look.fields).gone },
      has((look) => look.fields),
    ),
    told(
      'controls',
      { gone: lists((look) => look.controls).gone },
      has((look) => look.controls),
    ),
    stepsGuard(
      told(
        'steps',
        { gone: lostSteps(without, withRules) },
        has((look) => look.steps),
      ),
      without,
    ),
  ]
}

/** How much is never twice the same to the digit. */
const SAME_SIZE = 1.25

/** Whether a guard that fails finds nothing but what it found another time, or on another view. */
export function findsNoMore(now: Omit<GuardResult, 'outcome'>, known: Omit<GuardResult, 'outcome'>): boolean {
  if (now.guard !== known.guard) return false
  if (now.size !== undefined && known.size !== undefined) return now.size <= SAME_SIZE * known.size
  const [lost, came] = [new Set(known.gone), new Set(known.came)]
  return now.gone.every((entry) => lost.has(entry)) && now.came.every((entry) => came.has(entry))
}

const keyOf = ({ role, name }: Landmark) => (name === '' ? role : `${role} “${name}”`)

/** Landmarks that keep neither place nor size, each told by what became of it. */
function lostLandmarks(without: readonly GuardLook[], withRules: readonly GuardLook[]): string[] {
  const known = new Map<string, Landmark[]>()
  for (const look of without)
    for (const landmark of unique(look.landmarks)) {
      const key = keyOf(landmark)
      known.set(key, [...(known.get(key) ?? []), landmark])
    }
  const lost: string[] = []
  for (const [key, places] of known) {
    // Only what is there each time, and each time in the same place, can be held to it.
    if (places.length < without.length || places.some((place) => place.width < LEAST_PX || place.height < LEAST_PX))
      continue
    if (places.some((place) => isElsewhere(places[0]!, place) !== null)) continue
    const verdicts = withRules.map((look) => {
      const now = unique(look.landmarks).find((landmark) => keyOf(landmark) === key)
      if (!now || now.width < LEAST_PX || now.height < LEAST_PX) return 'is gone'
      return isElsewhere(places[0]!, now)
    })
    const bad = verdicts.filter((verdict) => verdict !== null)
    if (bad.length > 0 && bad.length === verdicts.length) lost.push(`${key} ${bad[0]!}`)
  }
  return lost
}

/** Of several of one role and name, the first one stands for all. */
function unique(landmarks: readonly Landmark[]): Landmark[] {
  const seen = new Set<string>()
  return landmarks.filter((landmark) => {
    const key = keyOf(landmark)
    return seen.has(key) ? false : seen.add(key)
  })
}

/**
 * In what a place differs beyond the tolerance; null where it does not. How far down something stands is held to nothing where
 * what stands above it has only become shorter: that is what rules are for.
 */
function isElsewhere(was: Landmark, now: Landmark): string | null {
  const beyond = (a: number, b: number, size: number) => Math.abs(a - b) > Math.max(MOVED_PX, MOVED_SHARE * size)
  if (beyond(was.width, now.width, was.width)) return `is ${px(now.width)} wide, not ${px(was.width)}`
  if (now.height < was.height && beyond(was.height, now.height, was.height) && now.height < was.height / 2)
    return `is ${px(now.height)} high, not ${px(was.height)}`
  if (beyond(was.x, now.x, was.width)) return `stands at ${px(now.x)} from the left, not ${px(was.x)}`
  if (now.y > was.y && beyond(was.y, now.y, Math.max(was.height, MOVED_PX)) && now.y > 2 * was.y + MOVED_PX)
    return `stands at ${px(now.y)} from the top, not ${px(was.y)}`
  return null
}

const px = (n: number) => `${Math.round(n)} px`

function shiftGuard(without: readonly GuardLook[], withRules: readonly GuardLook[]): GuardResult {
  const shifts = (looks: readonly GuardLook[]) => looks.flatMap(({ shift }) => shift ?? [])
  const [before, after] = [shifts(without), shifts(withRules)]
  if (before.length === 0 || after.length === 0) return { guard: 'shift', outcome: 'unknown', gone: [], came: [] }
  const most = Math.max(...before)
  // Where much moves by itself, how much of it counts is a matter of when the browser draws.
  const worse = after.filter((shift) => shift > most + Math.max(LEAST_SHIFT, most / 4))
  const fails = 2 * worse.length > after.length
  return {
    guard: 'shift',
    outcome: fails ? 'fails' : 'holds',
    gone: [],
    came: fails ? [`layout shift ${Math.max(...after).toFixed(3)}, not ${most.toFixed(3)}`] : [],
    size: Math.max(...after),
  }
}

function pictureGuard(changed: 'aside' | null | readonly number[]): GuardResult {
  if (changed === 'aside') return { guard: 'picture', outcome: 'aside', gone: [], came: [] }
  if (changed === null || changed.length === 0) return { guard: 'picture', outcome: 'unknown', gone: [], came: [] }
  const beyond = changed.filter((share) => share > CHANGED_PIXELS)
  const fails = 2 * beyond.length > changed.length
  return {
    guard: 'picture',
    outcome: fails ? 'fails' : 'holds',
    gone: [],
    came: fails ? [`${(100 * Math.max(...changed)).toFixed(1)} % of the picture differs`] : [],
    size: Math.max(...changed),
  }
}

/** With those steps named that would hold nothing, since they fail by themselves. */
function stepsGuard(result: GuardResult, without: readonly GuardLook[]): GuardResult {
  const failing = (look: GuardLook) =>
    look.steps.filter(({ outcome }) => outcome === 'failed').map(({ name, why }) => withWhy(name, why))
  const [first, ...others] = without.map(failing)
  const anyway = (first ?? []).filter((entry) => others.every((list) => list.includes(entry)))
  return anyway.length === 0 ? result : { ...result, anyway: anyway.slice(0, MOST_TOLD) }
}

const withWhy = (name: string, why: string | undefined) => (why === undefined ? name : `${name}: ${why}`)

/** Steps that could be done and can't be any more, and what they no longer bring to hand. */
function lostSteps(without: readonly GuardLook[], withRules: readonly GuardLook[]): string[] {
  const done = (look: GuardLook) => look.steps.filter(({ outcome }) => outcome === 'done').map(({ name }) => name)
  const undone = gone(without.map(done), withRules.map(done))
  const brought = (look: GuardLook) => {
    // What was there before any step is the business of the guard of controls.
    const before = new Set(look.controls)
    return look.steps.flatMap(({ name, controls }) =>
      controls.filter((control) => !before.has(control)).map((control) => `${name} → ${control}`),
    )
  }
  const missing = gone(without.map(brought), withRules.map(brought)).filter(
    (entry) => !undone.some((name) => entry.startsWith(`${name} → `)),
  )
  const whyOf = (name: string) =>
    withRules.flatMap(({ steps }) => steps.find((step) => step.name === name)?.why ?? [])[0]
  return [...undone.map((name) => withWhy(name, whyOf(name))), ...missing]
}
