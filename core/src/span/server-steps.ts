import { CMS } from '../attribution/evidence.js'
import { selfTimes } from './self-time.js'
import type { Span } from './span.js'

/** A piece of an add-on's code that the site ran for a page. Times are milliseconds of its own, without what it called. */
export interface ServerStep {
  addon: string
  step: string
  calls: number
  selfMs: number
  queries: number
  queryMs: number
}

/** Queries that differ in their values only. */
export interface QueryGroup {
  addon: string
  statement: string
  count: number
  ms: number
  /** Rows that came back; null where the site doesn't tell. */
  rows: number | null
}

const ADDON = 'unvelt.addon'
export const isQuery = ({ attributes }: Span) => 'db.query.text' in attributes || 'db.system.name' in attributes
export const addonOf = ({ attributes }: Span) => (typeof attributes[ADDON] === 'string' ? attributes[ADDON] : CMS)

/** The steps of a trace by add-on and name, the longest first. A query belongs to the step that asked. */
export function serverSteps(spans: readonly Span[]): ServerStep[] {
  const byId = new Map(spans.map((span) => [span.spanId, span]))
  const own = selfTimes(spans.filter((span) => !isQuery(span)))
  const steps = new Map<string, ServerStep>()
  const of = (span: Span) => {
    const step = String(span.attributes['code.function.name'] ?? span.name)
    const key = `${addonOf(span)}\n${step}`
    const known = steps.get(key) ?? { addon: addonOf(span), step, calls: 0, selfMs: 0, queries: 0, queryMs: 0 }
    steps.set(key, known)
    return known
  }
  for (const span of spans) {
    if (isQuery(span)) {
      const asking = span.parentId === null ? undefined : byId.get(span.parentId)
      const step = of(asking ?? span)
      step.queries += 1
      step.queryMs += lasted(span)
    } else {
      const step = of(span)
      step.calls += 1
      step.selfMs += own.get(span.spanId)!
    }
  }
  return [...steps.values()].sort((a, b) => b.selfMs - a.selfMs)
}

/** The queries of a trace by add-on and statement, those that took longest first. */
export function queryGroups(spans: readonly Span[]): QueryGroup[] {
  const groups = new Map<string, QueryGroup>()
  for (const span of spans.filter(isQuery)) {
    const statement = normalised(String(span.attributes['db.query.text'] ?? span.name))
    const key = `${addonOf(span)}\n${statement}`
    const group = groups.get(key) ?? { addon: addonOf(span), statement, count: 0, ms: 0, rows: null }
    group.count += 1
    group.ms += lasted(span)
    const rows = span.attributes['db.response.returned_rows']
    if (typeof rows === 'number') group.rows = (group.rows ?? 0) + rows
    groups.set(key, group)
  }
  return [...groups.values()].sort((a, b) => b.ms - a.ms)
}

/** The most memory that the site says it used for the page, in bytes; null where it doesn't tell. */
export function peakMemory(spans: readonly Span[]): number | null {
  const told = spans.flatMap(({ attributes }) => {
    const bytes = attributes['unvelt.memory.peak_bytes']
    return typeof bytes === 'number' ? [bytes] : []
  })
  return told.length > 0 ? told.reduce((most, bytes) => Math.max(most, bytes)) : null
}

/**
 * A statement with its values left out, so that those that differ in nothing else are one: texts, numbers and lists of
 * them become `?`. Placeholders stay as they are.
 */
export function normalised(statement: string): string {
  return statement
    .replace(/'(?:[^']|'')*'/g, '?')
    .replace(/(?<![\w$])-?\d+(?:\.\d+)?(?![\w])/g, '?')
    .replace(/\(\s*\?(?:\s*,\s*\?)+\s*\)/g, '(?)')
    .replace(/\s+/g, ' ')
    .trim()
}

const lasted = (span: Span) => span.endMs - span.startMs
