import { canonicalAddress, canonicalEntry, canonicalHost, canonicalPath } from '../attribution/canonical.js'
import { compilePattern } from '../attribution/pattern.js'
import type { AttributionSources } from '../attribution/sources.js'
import type { ResolvedEffect } from '../rule/resolve.js'
import { withNamedFiles } from './named-files.js'

/** Effects by which an address may not be loaded at all. */
export const GOES: ReadonlySet<string> = new Set(['skip', 'leave-out', 'system-font'])

/** Whether an effect is of the add-on as a whole. */
export const isOfAll = ({ feature, file, setting }: ResolvedEffect): boolean =>
  feature === undefined && file === undefined && setting === undefined

/** The names that a rule may call a file by, in their canonical form: a path is one on an own host. */
export function fileNames(url: URL, isOwn: boolean): string[] {
  const path = canonicalPath(url.pathname)
  return isOwn ? [canonicalAddress(url), path + url.search, path] : [canonicalAddress(url)]
}

/** The one of them by which a rule that is written today calls it: own files by their path alone. */
export const ruleFileName = (url: URL, isOwn: boolean): string => fileNames(url, isOwn).at(-1)!

/**
 * What a page's scripts may not insert. Whose an address is is asked in the same order as for the tags in the HTML: the
 * register, folders and their like by the longest, patterns by the first, domains. Numbers are places in `says`, from 1; 0 is
 * anybody of whom nothing is said, and stands there only where an address would be taken for somebody else's without it.
 */
export interface StopList {
  /** Paths (with query or without) on own hosts, or whole addresses. */
  paths: Record<string, number>
  prefixes: [string, number][]
  /** Regular expressions for paths (which begin with `^\/`) or addresses; or, marked with a plus, in URLPattern syntax. */
  patterns: [string, number][]
  domains: Record<string, number>
  /** Whether all that an add-on has goes, and what is said of single files of it, by the same names as paths. */
  says: { all: 0 | 1; files: Record<string, 0 | 1> }[]
  /** Hosts of the site's own. */
  own: string[]
}

/** Null where nothing of any effect may not be inserted. */
export function stopList(effects: readonly ResolvedEffect[], told: AttributionSources): StopList | null {
  const sources = withNamedFiles(told, effects)
  const said = new Map<string, StopList['says'][number]>()
  for (const { addon, file, feature, setting, effect } of effects) {
    if (feature !== undefined || setting !== undefined) continue
    const of = said.get(addon) ?? { all: 0, files: {} }
    if (file === undefined) of.all = GOES.has(effect) ? 1 : 0
    else of.files[canonicalEntry(file)] = GOES.has(effect) ? 1 : 0
    said.set(addon, of)
  }
  for (const [addon, { all, files }] of said) if (all === 0 && !Object.values(files).includes(1)) said.delete(addon)
  if (said.size === 0) return null
  const numbers = new Map([...said.keys()].map((addon, n) => [addon, n + 1]))
  const numberOf = (addon: string) => numbers.get(addon) ?? 0
  const prefixes = sources.prefixes
    .map(({ prefix, addon }): [string, number] => [canonicalEntry(prefix), numberOf(addon)])
    .sort(([a], [b]) => b.length - a.length)
  const domains = Object.fromEntries(
    Object.entries(sources.outsiders)
      .map(([domain, addon]) => [domain, numberOf(addon)] as const)
      .filter(([, number]) => number > 0),
  )
  const anyDomain = Object.keys(domains).length > 0
  const lastSaid = sources.patterns.findLastIndex(({ addon }) => said.has(addon))
  const patterns = anyDomain ? sources.patterns : sources.patterns.slice(0, lastSaid + 1)
  // A pattern may fit anything, so then all that outranks patterns is needed; else only what lies in what is said.
  const mayBeCaught = (entry: string) =>
    lastSaid >= 0 ||
    prefixes.some(([prefix, number]) => number > 0 && (entry.startsWith(prefix) || isOther(prefix, entry))) ||
    (anyDomain && !entry.startsWith('/'))
  // The same path may be somebody else's with a query, or as a whole address.
  const saidPaths = new Set(
    Object.entries(sources.register).flatMap(([entry, addon]) =>
      said.has(addon) ? [barePath(canonicalEntry(entry))] : [],
    ),
  )
  const needed = ([entry, number]: readonly [string, number]) => number > 0 || mayBeCaught(entry)
  return {
    paths: Object.fromEntries(
      Object.entries(sources.register)
        .map(([entry, addon]) => [canonicalEntry(entry), numberOf(addon)] as const)
        .filter((each) => needed(each) || saidPaths.has(barePath(each[0]))),
    ),
    prefixes: prefixes.filter(needed),
    patterns: patterns.map(({ pattern, addon }) => [
      compilePattern(pattern).asExpression() ?? `+${pattern}`,
      numberOf(addon),
    ]),
    domains,
    says: [...said.values()],
    own: [...new Set(sources.ownHosts.map(canonicalHost))],
  }
}

/** One of the two is a path and the other a whole address, so that either may be the longer one of the same file. */
const isOther = (a: string, b: string) => a.startsWith('/') !== b.startsWith('/')
const barePath = (entry: string) => entry.replace(/^[a-z]+:\/\/[^/]*|[?].*$/g, '')
