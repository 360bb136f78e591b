import type { Rule, RulePage, Visit } from '../rule/rule.js'
import { saysOn } from '../rule/says-on.js'

/** A page as it was read. Times are milliseconds since 1970. */
export interface ReadPage extends RulePage {
  id: number
  readAt: number
  /** Slugs of all that has a toll on it. */
  payers: ReadonlySet<string>
  /** The day on which its words were last changed, as `2026-11-29`; null where nobody tells. */
  modified: string | null
}

/** Rules as they were put live. */
export interface RuleState {
  version: number
  at: number
  rules: readonly Rule[]
}

/** An add-on, as far as it says that another one of it is there by now. */
export interface AddOnState {
  slug: string
  name: string
  version: string | null
  active: boolean
  featuresOn: number
}

/** What happened to a site since pages of it were read. */
export type StaleCause =
  | { kind: 'rules'; version: number }
  | { kind: 'updated'; slug: string; name: string; from: string | null; to: string | null }
  | { kind: 'on' | 'off' | 'came' | 'went' | 'features'; slug: string; name: string }
  | { kind: 'words' }

export interface StaleFigures {
  /** The causes that touch any page at all, rules before add-ons before words. */
  causes: StaleCause[]
  /** Of each page whose figures hold no longer, which of them, in the order of the pages. */
  pages: { id: number; causes: number[] }[]
}

/**
 * The pages of which something was changed after they were read. A page is stale by rules where it is made otherwise now for the
 * lens's visit than when it was read: a change that was taken back since is none. It is stale by an add-on that has a toll on it, and by
 * one that came or was switched on, which may load anywhere; by its words where they were changed on a later day.
 * @param versions Oldest first; before the first no rule was live.
 */
export function staleFigures(
  pages: readonly ReadPage[],
  {
    versions,
    before,
    now,
    visit,
  }: { versions: readonly RuleState[]; before: AddOnState[]; now: AddOnState[]; visit: Visit },
): StaleFigures {
  const causes: StaleCause[] = []
  const numbers = new Map<string, number>()
  const numberOf = (cause: StaleCause): number => {
    const key = JSON.stringify(cause)
    const known = numbers.get(key)
    if (known !== undefined) return known
    numbers.set(key, causes.length)
    return causes.push(cause) - 1
  }
  const byAddOns = changedAddOns(before, now)
  const stale = pages.flatMap((page) => {
    const found: StaleCause[] = [
      ...ruleCauses(page, versions, visit),
      ...byAddOns.filter(({ everywhere, slug }) => everywhere || page.payers.has(slug)).map(({ cause }) => cause),
      ...(page.modified !== null && page.modified > dayOf(page.readAt) ? [{ kind: 'words' } as const] : []),
    ]
    return found.length === 0 ? [] : [{ id: page.id, causes: found.map(numberOf) }]
  })
  return inOrder(causes, stale)
}

const KINDS: StaleCause['kind'][] = ['rules', 'updated', 'features', 'on', 'off', 'came', 'went', 'words']

/** Numbered by kind, rules as they were put, whatever page was looked at first. */
function inOrder(causes: StaleCause[], pages: StaleFigures['pages']): StaleFigures {
  const order = causes
    .map((cause, at) => ({ cause, at }))
    .sort(
      (a, b) =>
        KINDS.indexOf(a.cause.kind) - KINDS.indexOf(b.cause.kind) ||
        (a.cause.kind === 'rules' && b.cause.kind === 'rules' ? a.cause.version - b.cause.version : 0),
    )
  const place = new Map(order.map(({ at }, to) => [at, to]))
  return {
    causes: order.map(({ cause }) => cause),
    pages: pages.map(({ id, causes }) => ({ id, causes: causes.map((at) => place.get(at)!).sort((a, b) => a - b) })),
  }
}

/** The changes of rules since a page was read that it would see, where all together come to something. */
function ruleCauses(page: ReadPage, versions: readonly RuleState[], visit: Visit): StaleCause[] {
  const since = versions.findIndex(({ at }) => at > page.readAt)
  if (since < 0) return []
  const says = (at: number) => (at < 0 ? saysOn([], page, visit) : saysOn(versions[at]!.rules, page, visit))
  // What was taken back, even to be put again later, is no reason any more.
  let asRead = since - 1
  for (let at = since; at < versions.length; at++) if (says(at) === says(since - 1)) asRead = at
  const found: StaleCause[] = []
  for (let at = asRead + 1; at < versions.length; at++)
    if (says(at) !== says(at - 1)) found.push({ kind: 'rules', version: versions[at]!.version })
  return found
}

/** @returns each change, and whether it may be seen on any page. */
function changedAddOns(before: readonly AddOnState[], now: readonly AddOnState[]) {
  const [was, is] = [bySlug(before), bySlug(now)]
  const found: { slug: string; cause: StaleCause; everywhere: boolean }[] = []
  for (const [slug, then] of was) {
    const present = is.get(slug)
    const { name } = then
    const cause: StaleCause | null = !present
      ? then.active
        ? { kind: 'went', slug, name }
        : null
      : then.active !== present.active
        ? { kind: present.active ? 'on' : 'off', slug, name }
        : !present.active
          ? null
          : then.version !== present.version
            ? { kind: 'updated', slug, name, from: then.version, to: present.version }
            : then.featuresOn !== present.featuresOn
              ? { kind: 'features', slug, name }
              : null
    if (cause) found.push({ slug, cause, everywhere: cause.kind === 'on' })
  }
  for (const [slug, { name, active }] of is)
    if (active && !was.has(slug)) found.push({ slug, cause: { kind: 'came', slug, name }, everywhere: true })
  return found
}

const bySlug = (addOns: readonly AddOnState[]) => new Map(addOns.map((addOn) => [addOn.slug, addOn]))
const dayOf = (at: number) => new Date(at).toISOString().slice(0, 10)
