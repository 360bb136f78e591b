import { AddressBook } from '../attribution/address-book.js'
import type { AttributionSources } from '../attribution/sources.js'
import { codeHash } from '../reading/inline-code.js'
import type { HoldUntil, Order } from '../rule/rule.js'
import type { ResolvedEffect } from '../rule/resolve.js'
import { HOLDER, stopper, type StopList } from './page-scripts.js'

/** What is done with one tag. */
export type TagAction =
  | { do: 'drop' }
  | { do: 'hold'; until: HoldUntil; addon: string }
  | { do: 'order'; order: Order }
  | { do: 'move'; to: string }

/** What the rewriter asks for each tag that can load or run something. */
export interface RewritePlan {
  /** What is to be done with the tag of a file, by the address in it as Latin-1; null leaves the tag alone. */
  forFile(address: string): TagAction | null
  /** Asked first without the code, and again with it only where `readsInline` says that it can matter. */
  forInline(elementId: string | null, code: string | null): TagAction | null
  /** For tags that only announce: the address, or the origin, that is announced. */
  forHint(address: string): TagAction | null
  /** Whether any inline code can be meant. */
  touchesInline: boolean
  /** Whether inline code without a known id must be read to know it. */
  readsInline: boolean
  /** Put first in the head. */
  first: string
  /** True where nothing can be touched at all: then the page goes through as it is. */
  idle: boolean
}

export interface PlanInput {
  /** The effects on this page for this visit. */
  effects: readonly ResolvedEffect[]
  sources: AttributionSources
  /** The page's own address, against which addresses in tags are read. */
  pageUrl: string
  /** For `local`: address of an outside file → its copy on the own host. */
  localCopies?: Record<string, string>
  /** Origins to connect to early, for `hint`: by add-on. */
  origins?: Record<string, string[]>
}

const MOST_REMEMBERED = 2_000

/** Turns the effects on a page into what the rewriter does with its tags. */
export function planRewrite({ effects, sources, pageUrl, localCopies = {}, origins = {} }: PlanInput): RewritePlan {
  const book = new AddressBook(sources)
  const whole = new Map(effects.filter(isOfAll).map((e) => [e.addon, e]))
  const byFile = new Map(effects.filter((e) => e.file).map((e) => [JSON.stringify([e.addon, e.file]), e]))
  const addonOf = (url: URL) =>
    book.byAddress(url)?.payer ?? (book.isOwn(url.host) ? undefined : book.outsider(url).addon)

  const decide = (latin1: string): TagAction | null => {
    // Bytes that are not ASCII are what a browser would percent-encode.
    const address = latin1.replace(/[\u0080-\u00ff]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)
    if (!URL.canParse(address, pageUrl)) return null
    const url = new URL(address, pageUrl)
    const addon = addonOf(url)
    if (addon === undefined) return null
    const names = [url.href, url.pathname + url.search, url.pathname]
    const effect = names.map((name) => byFile.get(JSON.stringify([addon, name]))).find((e) => e) ?? whole.get(addon)
    return effect ? actionOf(effect, url, localCopies) : null
  }
  // A plan serves many copies of a page, and they name the same files.
  const decided = new Map<string, TagAction | null>()
  const forFile = (address: string): TagAction | null => {
    let action = decided.get(address)
    if (action === undefined) {
      action = decide(address)
      if (decided.size < MOST_REMEMBERED) decided.set(address, action)
    }
    return action
  }
  const inline = sources.inline.filter(({ addon }) => canTouchInline(whole.get(addon)))
  const byId = new Map(
    inline.flatMap(({ elementId, addon }) => (elementId === undefined ? [] : [[elementId, addon] as const])),
  )
  const byHash = new Map(inline.flatMap(({ hash, addon }) => (hash === undefined ? [] : [[hash, addon] as const])))
  const forInline = (elementId: string | null, code: string | null): TagAction | null => {
    const addon =
      (elementId !== null ? byId.get(elementId) : undefined) ?? (code !== null ? byHash.get(codeHash(code)) : undefined)
    const effect = addon === undefined ? undefined : whole.get(addon)
    return effect ? actionOf(effect, null, localCopies) : null
  }
  const forHint = (address: string): TagAction | null => {
    const action = forFile(address)
    return action?.do === 'drop' || action?.do === 'hold' ? { do: 'drop' } : null
  }
  const hints = [...whole.values()].filter((e) => e.effect === 'hint').flatMap((e) => origins[e.addon] ?? [])
  const stops = stopList(effects, sources)
  const holds = effects.some((e) => e.effect === 'hold')
  return {
    forFile,
    forInline,
    forHint,
    touchesInline: inline.length > 0,
    readsInline: byHash.size > 0,
    first:
      (stops ? `<script>${stopper(stops)}</script>` : '') +
      (holds ? `<script>${HOLDER}</script>` : '') +
      [...new Set(hints)]
        .map((origin) => `<link rel="preconnect" href="${origin.replace(/["&<]/g, encodeURIComponent)}">`)
        .join(''),
    idle: effects.every((e) => e.effect === 'keep' || e.effect === 'set'),
  }
}

/** Whether an effect is of the add-on as a whole. */
const isOfAll = ({ feature, file, setting }: ResolvedEffect) =>
  feature === undefined && file === undefined && setting === undefined

/** A local copy and a hint are of files; inline code has no address. */
const canTouchInline = (effect: ResolvedEffect | undefined) =>
  effect !== undefined && !['keep', 'local', 'hint'].includes(effect.effect)

function actionOf(effect: ResolvedEffect, url: URL | null, localCopies: Record<string, string>): TagAction | null {
  switch (effect.effect) {
    case 'skip':
    case 'leave-out':
    case 'system-font':
      return { do: 'drop' }
    case 'hold':
      return { do: 'hold', until: effect.until ?? 'idle', addon: effect.addon }
    case 'order':
      return { do: 'order', order: effect.order ?? 'defer' }
    case 'local': {
      const to = url && Object.hasOwn(localCopies, url.href) ? localCopies[url.href] : undefined
      return to === undefined ? null : { do: 'move', to }
    }
    default:
      return null
  }
}

/** What scripts may not insert: the files, folders and hosts of whatever is left out whole. */
function stopList(effects: readonly ResolvedEffect[], sources: AttributionSources): StopList | null {
  const gone = new Set(
    effects.filter((e) => isOfAll(e) && ['skip', 'leave-out', 'system-font'].includes(e.effect)).map((e) => e.addon),
  )
  const goneFiles = effects.filter((e) => e.file && e.effect === 'leave-out').map((e) => e.file!)
  if (gone.size === 0 && goneFiles.length === 0) return null
  return {
    paths: [
      ...Object.entries(sources.register).flatMap(([path, addon]) => (gone.has(addon) ? [path] : [])),
      ...goneFiles,
    ],
    prefixes: sources.prefixes.filter(({ addon }) => gone.has(addon)).map(({ prefix }) => prefix),
    domains: Object.entries(sources.outsiders).flatMap(([domain, addon]) => (gone.has(addon) ? [domain] : [])),
  }
}
