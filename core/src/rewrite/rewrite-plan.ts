import { addressBook } from '../attribution/address-book.js'
import { canonicalEntry } from '../attribution/canonical.js'
import type { AttributionSources } from '../attribution/sources.js'
import { codeHash } from '../reading/inline-code.js'
import type { AskPlace, HoldUntil, Order } from '../rule/rule.js'
import type { ResolvedEffect } from '../rule/resolve.js'
import { aheadLinks, earlyLinks, standInStyle } from './early-head.js'
import { isLeftToBrowser } from './held-tag.js'
import { HOLDER } from './holder.js'
import { withNamedFiles } from './named-files.js'
import { fileNames, GOES, isOfAll, stopList } from './stop-list.js'
import { stopper } from './stopper.js'

/** What is done with one tag. */
export type TagAction =
  | { do: 'drop' }
  | { do: 'hold'; until: HoldUntil; addon: string; ask?: AskPlace }
  | { do: 'order'; order: Order }
  /** It is asked for before others (HTML standard, section 2.5.8, fetch priority). */
  | { do: 'first' }
  /** With what the file there is checked against, where that is known (SRI). */
  | { do: 'move'; to: string; integrity?: string }

/** What the rewriter asks for each tag that can load or run something. */
export interface RewritePlan {
  /** The page's own address. */
  pageUrl: string
  /** What is to be done with the tag of a file, by the address in it; null leaves the tag alone. `base` is the page's own. */
  forFile(address: string, base?: string): TagAction | null
  /** Asked first without the code, and again with it only where `readsInline` says that it can matter. */
  forInline(elementId: string | null, code: string | null): TagAction | null
  /** For tags that only announce: the address, or the origin, that is announced. */
  forHint(address: string, base?: string): TagAction | null
  /**
   * Where a link, a form or the page's `base` is to lead instead; null leaves it as it is. Without it they are not looked at.
   */
  links?: (address: string, base?: string) => string | null
  /**
   * What a content policy in the page's own head becomes; without it such policies stay. What is put first in the head stands before
   * them, and they say nothing of it (CSP Level 3, section 3.3).
   */
  policy?: (policy: string) => string
  /** Whether any inline code can be meant. */
  touchesInline: boolean
  /** Whether inline code without a known id must be read to know it. */
  readsInline: boolean
  /** Whether styles in the page may name what is to go. */
  readsStyles: boolean
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
  localCopies?: Record<string, LocalCopy>
  /** For `local` with a copy that was made: by the hash of its content, as long as the file is what it was made from. */
  madeCopies?: Record<string, LocalCopy>
  /** Origins to connect to early, for `hint`: by add-on. */
  origins?: Record<string, string[]>
}

/** A copy's path, or address, on the own host, and the hash that a browser is to check it against (SRI, section 3.5). */
export interface LocalCopy {
  to: string
  integrity?: string
}

const MOST_REMEMBERED = 2_000
/** No server takes longer ones; whoever writes them means to cost time. */
const LONGEST_ADDRESS = 1 << 14
const LONGEST_REMEMBERED = 500

/** Turns the effects on a page into what the rewriter does with its tags. */
export function planRewrite({
  effects,
  sources: told,
  pageUrl,
  localCopies = {},
  madeCopies = {},
  origins = {},
}: PlanInput): RewritePlan {
  const copyFor = ({ copy }: ResolvedEffect, url: URL | null): LocalCopy | undefined =>
    copy?.content !== undefined ? own(madeCopies, copy.content) : url ? own(localCopies, url.href) : undefined
  const sources = withNamedFiles(told, effects)
  const book = addressBook(sources)
  const whole = new Map(effects.filter(isOfAll).map((e) => [e.addon, e]))
  const byFile = new Map(
    effects.filter((e) => e.file).map((e) => [JSON.stringify([e.addon, canonicalEntry(e.file!)]), e]),
  )
  // A file that is glued from several payers' files is nobody's to take away: only the site can glue it without one.
  const addonOf = (url: URL) =>
    book.gluedAt(url) !== undefined
      ? undefined
      : (book.byAddress(url)?.payer ?? (book.isOwn(url.host) ? undefined : book.outsider(url).addon))

  const decide = (address: string, base: string): TagAction | null => {
    if (address.length > LONGEST_ADDRESS || !URL.canParse(address, base)) return null
    const url = withoutHash(new URL(address, base))
    const addon = addonOf(url)
    if (addon === undefined) return null
    const effect =
      fileNames(url, book.isOwn(url.host)).flatMap((name) => byFile.get(JSON.stringify([addon, name])) ?? [])[0] ??
      whole.get(addon)
    return effect ? actionOf(effect, copyFor(effect, url)) : null
  }
  // A plan serves many copies of a page, and they name the same files.
  const decided = new Map<string, TagAction | null>()
  const forFile = (address: string, base = pageUrl): TagAction | null => {
    if (address.length > LONGEST_REMEMBERED) return decide(address, base)
    const key = base === pageUrl ? address : `${address}\n${base}`
    let action = decided.get(key)
    if (action === undefined) {
      action = decide(address, base)
      if (decided.size < MOST_REMEMBERED) decided.set(key, action)
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
    return effect ? actionOf(effect, undefined) : null
  }
  const forHint = (address: string, base?: string): TagAction | null => {
    const action = forFile(address, base)
    return action?.do === 'order' ? null : action
  }
  const hosts = [...whole.values()]
    .filter((e) => e.effect === 'hint')
    .flatMap((e) => e.hosts ?? (origins[e.addon] ?? []).map((origin) => ({ origin })))
  const fonts = effects.flatMap((e) => (e.effect === 'system-font' ? (e.fonts ?? []) : []))
  const stops = stopList(effects, sources)
  const holds = effects.some(
    ({ effect, addon, until = 'idle' }) => effect === 'hold' && !isLeftToBrowser({ addon, until }),
  )
  return {
    pageUrl,
    forFile,
    forInline,
    forHint,
    touchesInline: inline.length > 0,
    readsInline: byHash.size > 0,
    readsStyles: effects.some(({ effect }) => GOES.has(effect) || effect === 'local'),
    first:
      (stops ? `<script>${stopper(stops)}</script>` : '') +
      (holds ? `<script>${HOLDER}</script>` : '') +
      earlyLinks(hosts) +
      aheadLinks(effects.flatMap(({ file, ahead }) => (ahead && file !== undefined ? [file] : []))) +
      standInStyle(fonts),
    idle: effects.every((e) => e.effect === 'keep' || e.effect === 'set'),
  }
}

function withoutHash(url: URL): URL {
  url.hash = ''
  return url
}

/** A local copy and a hint are of files; inline code has no address. */
const canTouchInline = (effect: ResolvedEffect | undefined) =>
  effect !== undefined && !['keep', 'local', 'hint'].includes(effect.effect)

const own = <T>(record: Record<string, T>, key: string): T | undefined =>
  Object.hasOwn(record, key) ? record[key] : undefined

function actionOf(effect: ResolvedEffect, copy: LocalCopy | undefined): TagAction | null {
  switch (effect.effect) {
    case 'skip':
    case 'leave-out':
    case 'system-font':
      return { do: 'drop' }
    case 'hold':
      return {
        do: 'hold',
        until: effect.until ?? 'idle',
        addon: effect.addon,
        ...(effect.ask && { ask: effect.ask }),
      }
    case 'hint':
      return effect.file === undefined ? null : { do: 'first' }
    case 'order':
      return { do: 'order', order: effect.order ?? 'defer' }
    case 'local':
      return copy === undefined ? null : { do: 'move', ...copy }
    default:
      return null
  }
}
