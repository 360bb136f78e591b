import { resolve, samplePages, saysOn, type Rule, type RulePage, type Visit } from '@unvelt/core'

/** Every way in which a visit can differ, as far as rules tell visits apart. */
export const EVERY_VISIT: Visit[] = (['desk', 'handset'] as const).flatMap((device) =>
  (['signed-out', 'signed-in'] as const).map((visitor) => ({ device, visitor })),
)

/** So many of the touched pages are asked for at the most, beside those on which what changes was seen in use. */
export const MOST_CHECKED = 60
const MOST_IN_USE = 100
/** Of each kind, so many of the most visited and so many drawn, where not all are looked at. */
const OF_EACH_KIND = { mostVisited: 2, drawn: 3 }

export interface TouchedPage extends RulePage {
  id: number
  views: number | null
}

/** Pages on which one set of rules does something else than another, for any visit. */
export function touchedPages<P extends RulePage>(
  pages: readonly P[],
  before: readonly Rule[],
  after: readonly Rule[],
): P[] {
  return pages.filter((page) => EVERY_VISIT.some((visit) => saysOn(before, page, visit) !== saysOn(after, page, visit)))
}

/** Two rules that say different things of one add-on on a page, for some visit; null where there are none. */
export function firstConflict(
  rules: readonly Rule[],
  pages: readonly RulePage[],
): { path: string; addon: string; effect: string } | null {
  for (const page of pages)
    for (const visit of EVERY_VISIT)
      for (const { addon, effect, conflictsWith } of resolve(rules, page, visit))
        if (conflictsWith.length > 0) return { path: page.path, addon, effect }
  return null
}

/**
 * The touched pages that are asked for after a change: all of them where they are few, else of each kind the most visited
 * and a seeded draw, and those on which something that changes was seen in use.
 */
export function pagesToCheck<P extends TouchedPage>(
  touched: readonly P[],
  inUse: ReadonlySet<number>,
  seed: number,
): P[] {
  if (touched.length <= MOST_CHECKED) return [...touched]
  const sample = samplePages([...touched], { ...OF_EACH_KIND, seed })
  const used = touched.filter(({ id }) => inUse.has(id)).slice(0, MOST_IN_USE)
  const chosen = new Set([...sample.ids.slice(0, MOST_CHECKED), ...used.map(({ id }) => id)])
  return touched.filter(({ id }) => chosen.has(id))
}

/** Add-ons of which two sets of rules say different things. */
export function changedAddOns(before: readonly Rule[], after: readonly Rule[]): Set<string> {
  const [was, is] = [new Set(before.map(canonical)), new Set(after.map(canonical))]
  return new Set(
    [...before.filter((rule) => !is.has(canonical(rule))), ...after.filter((rule) => !was.has(canonical(rule)))].map(
      ({ addon }) => addon,
    ),
  )
}

/** What is to be done about a set of rules that is to stand in the place of one version, by what the site has now. */
export type Sending = { do: 'put' } | { do: 'go on'; version: number } | { do: 'stop' }

/**
 * Whoever was killed between asking and hearing the answer doesn't know whether the site has taken the rules: it has where
 * it is one version on and has just these.
 */
export function sending(
  replaced: number,
  wanted: readonly Rule[],
  site: { version: number; rules: readonly Rule[] },
): Sending {
  if (site.version === replaced) return { do: 'put' }
  return site.version === replaced + 1 && sameRules(site.rules, wanted)
    ? { do: 'go on', version: site.version }
    : { do: 'stop' }
}

export function sameRules(a: readonly Rule[], b: readonly Rule[]): boolean {
  const all = (rules: readonly Rule[]) => JSON.stringify(rules.map(canonical).sort())
  return all(a) === all(b)
}

/** Rules of one set that are not, or not like that, in another. */
export function notIn(rules: readonly Rule[], others: readonly Rule[]): Rule[] {
  const there = new Set(others.map(canonical))
  return rules.filter((rule) => !there.has(canonical(rule)))
}

/** A rule as text, whatever order its members stand in. */
const canonical = (rule: Rule): string =>
  JSON.stringify(rule, (_, value: unknown) =>
    value && typeof value === 'object' && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  )

/** How a page answered somebody who asked for it after the change. */
export interface CheckedPage {
  path: string
  /** `unseen`: nobody at hand may see it, so nothing is known of it. */
  outcome: 'new' | 'old' | 'broken' | 'unseen'
  /** Why it could not be seen, as the end of a sentence. */
  why?: string
}

const MOST_NAMED = 5

const named = (pages: readonly CheckedPage[]) => {
  const paths = pages.slice(0, MOST_NAMED).map(({ path }) => path)
  const more = pages.length - paths.length
  return paths.join(', ') + (more > 0 ? ` and ${more} more` : '')
}

const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`

/** What the answers come to: whether the change stands, and what is said of it. */
export function judge(
  checked: readonly CheckedPage[],
  { version, touched }: { version: number; touched: number },
): { stands: boolean; said: string[] } {
  const of = (outcome: CheckedPage['outcome']) => checked.filter((page) => page.outcome === outcome)
  const [fresh, old, broken, unseen] = [of('new'), of('old'), of('broken'), of('unseen')]
  if (broken.length > 0) return { stands: false, said: [`The site fails since the change on ${named(broken)}.`] }
  if (old.length > 0) return { stands: false, said: [`Visitors still get old copies of ${named(old)}.`] }
  const said: string[] = []
  if (touched === 0) said.push('It touches no page that is known.')
  else if (checked.length < touched)
    said.push(
      `Visitors get version ${version} on ${count(fresh.length, 'page')} asked for, of ${touched} that it touches.`,
    )
  else if (fresh.length > 0)
    said.push(
      `Visitors get version ${version} on ${touched === 1 ? 'the page' : fresh.length === touched ? `all ${touched} pages` : `${fresh.length} of the ${touched} pages`} it touches.`,
    )
  for (const why of new Set(unseen.map((page) => page.why ?? 'can’t be seen'))) {
    const these = unseen.filter((page) => (page.why ?? 'can’t be seen') === why)
    said.push(`Not checked, since ${these.length === 1 ? 'it' : 'they'} ${why}: ${named(these)}.`)
  }
  return { stands: true, said }
}
