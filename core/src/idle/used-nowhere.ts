import { walk, type CssNode } from 'css-tree'
import type { Range } from './byte-ranges.js'
import { parseCss } from './parse-css.js'
import { readStyleRules, type StyleRule } from './style-use.js'
import { inBytes, lineCounter, overlaps } from './text-places.js'

/** Why a rule or a function that was seen in use nowhere may be needed all the same. */
export const MAY_BE_NEEDED = ['print', 'condition', 'state', 'script', 'event', 'later', 'called'] as const
export type MayBeNeeded = (typeof MAY_BE_NEEDED)[number]

/** A rule of a stylesheet, or a function of a script, that was seen in use nowhere. */
export interface NowhereRule {
  what: 'selector' | 'typeface' | 'keyframes' | 'function'
  /** The selectors as they are written, the name of the key frames or of the function, or the family. */
  name: string
  /** One-based. */
  line: number
  /** UTF-16 code units. */
  from: number
  to: number
  bytes: number
  /** Null where nothing speaks for it. */
  because: MayBeNeeded | null
  /** What others know it by: the classes and ids that it is about; what a function is called. */
  names: string[]
  /** What it asks for by name: animations, or functions. */
  asks: string[]
}

/** States that come and go without any page or script saying so beforehand: of the pointer, of fields, of what is open. */
const STATE =
  /:(?:hover|active|focus|focus-visible|focus-within|visited|target|checked|disabled|enabled|invalid|valid|user-invalid|user-valid|placeholder-shown|autofill|open|popover-open|fullscreen|required|optional|read-only|indeterminate|empty|modal|playing|paused|buffering|current|past|future)\b|\[(?:aria-|data-|open|disabled|hidden|selected|checked|readonly|required|class|lang|dir)/i
/** Words that classes of states are made of. What a server says only in some answers (an error, a full basket) is among them. */
const STATE_WORD =
  /^(?:error|errors|invalid|valid|warning|notice|alert|success|fail|failed|failure|message|active|inactive|current|selected|open|opened|close|closed|show|shown|hide|hidden|visible|invisible|expanded|collapsed|loading|loaded|pending|disabled|enabled|checked|focus|focused|hover|hovered|pressed|sticky|stuck|fixed|dragging|dragged|touched|dirty|pristine|busy|js|nojs|touch|animated|animate|animating|full|empty|found|result|results|sent|done|complete|completed|thanks|confirmation)$/i
/** Such as say a state only where they begin a name or end it. */
const STATE_BEGINS = /^(?:is|has|was|no|not)[-_]/i
const STATE_ENDS = /(?:^|[-_])(?:on|off|in|out)$/i
const LONGEST_NAME = 200

/**
 * What of a stylesheet no page and no step used, with what speaks for keeping it. Conservative by intent: a rule is named
 * only where none of its bytes were ever used, and whatever some state, medium or script may bring is kept.
 * @param css The stylesheet as it was read.
 * @param used Bytes of it that some page used, in order and without overlap.
 */
export function usedNowhere(css: string, used: readonly Range[]): NowhereRule[] {
  const rules = readStyleRules(css)
  const bytes = inBytes(rules, css)
  const isUsed = rules.map((_, n) => overlaps(used, bytes[n]!))
  const conditionOf = ({ media, supports }: StyleRule) => JSON.stringify([media, supports])
  const met = new Set(rules.filter((_, n) => isUsed[n]).map(conditionOf))
  const whyKept = (rule: StyleRule): MayBeNeeded | null => {
    if (rule.media.some((query) => /\bprint\b/i.test(query))) return 'print'
    const isBare = rule.media.length === 0 && rule.supports.length === 0
    if (!isBare && !met.has(conditionOf(rule))) return 'condition'
    if (rule.selectors.length === 0) return null
    const written = headOf(css, rule)
    const names = namesIn(written)
    const isOfState = names.some(
      (name) =>
        STATE_BEGINS.test(name) || STATE_ENDS.test(name) || name.split(/[-_]+/).some((word) => STATE_WORD.test(word)),
    )
    return isOfState || STATE.test(written) ? 'state' : null
  }
  const lines = lineCounter(css)
  const found = rules.flatMap((rule, n): NowhereRule[] => {
    const what = whatOf(rule)
    if (what === null || isUsed[n]) return []
    const [a, b] = bytes[n]!
    const head = rule.selectors.length > 0 ? headOf(css, rule) : ''
    return [
      {
        what,
        name: (rule.face ?? rule.keyframes ?? head).slice(0, LONGEST_NAME),
        line: lines(rule.from),
        from: rule.from,
        to: rule.to,
        bytes: b - a,
        because: whyKept(rule),
        names: namesIn(head),
        asks: rule.names,
      },
    ]
  })
  return withWhatTheyAsk(found)
}

/**
 * The same, of which those are kept whose class or id, or whose function's name, stands in some script: it may be set or called there.
 * @param isInScripts Whether a name stands as a word in some script of the site.
 */
export const heldByScripts = (rules: readonly NowhereRule[], isInScripts: (name: string) => boolean): NowhereRule[] =>
  withWhatTheyAsk(
    rules.map((rule) =>
      rule.because === null && rule.names.some(isInScripts) ? { ...rule, because: 'script' } : rule,
    ),
  )

/** What something that is kept asks for is kept for the same reason: key frames, and functions. */
export function withWhatTheyAsk(rules: readonly NowhereRule[]): NowhereRule[] {
  const kept = rules.map((rule) => ({ ...rule }))
  const byName = new Map<string, NowhereRule[]>()
  for (const rule of kept)
    for (const name of namesAsked(rule)) {
      const same = byName.get(name)
      if (same) same.push(rule)
      else byName.set(name, [rule])
    }
  const toAsk = kept.filter(({ because }) => because !== null)
  for (let rule = toAsk.pop(); rule; rule = toAsk.pop())
    for (const name of rule.asks)
      for (const asked of take(byName, name)) {
        if (asked.because !== null) continue
        asked.because = rule.because
        toAsk.push(asked)
      }
  return kept
}

/** Who was asked for once need not be asked again. */
function take(byName: Map<string, NowhereRule[]>, name: string): NowhereRule[] {
  const found = byName.get(name) ?? []
  byName.delete(name)
  return found
}

/** By what it can be asked for. */
function namesAsked({ what, name, names }: NowhereRule): string[] {
  if (what === 'keyframes') return [name.toLowerCase()]
  return what === 'function' ? names : []
}

/**
 * The stylesheet without some of its rules: all other text stays as it is, but for the space behind what goes, and for blocks
 * of conditions of which nothing is left.
 */
export function withoutRules(css: string, gone: readonly Pick<NowhereRule, 'from' | 'to'>[]): string {
  const outermost = [...gone].sort((a, b) => a.from - b.from || b.to - a.to)
  let text = ''
  let at = 0
  for (const { from, to } of outermost) {
    if (from < at) continue
    text += css.slice(at, from)
    at = to + /^[ \t]*(?:\r?\n)?/.exec(css.slice(to, to + 200))![0].length
    // What stood before it on its line was only there for it.
    if (/[\n}]$/.test(css.slice(to, at)) || text === '') text = text.replace(/[ \t]+$/, '')
  }
  return withoutEmptied(text + css.slice(at))
}

/** Takes away blocks of conditions in which nothing stands any more, the inner ones first. */
function withoutEmptied(css: string): string {
  let text = css
  for (;;) {
    const empty: { from: number; to: number }[] = []
    let tree: CssNode
    try {
      tree = parseCss(text, { positions: true, parseValue: false, parseRulePrelude: false, parseAtrulePrelude: false })
    } catch {
      return text
    }
    walk(tree, (node: CssNode) => {
      if (node.type === 'Atrule' && /^(media|supports)$/i.test(node.name) && node.block?.children.isEmpty && node.loc)
        if (/\{\s*\}$/.test(text.slice(node.loc.start.offset, node.loc.end.offset)))
          empty.push({ from: node.loc.start.offset, to: node.loc.end.offset })
    })
    if (empty.length === 0) return text
    for (const { from, to } of empty.reverse())
      text = text.slice(0, from).replace(/[ \t]+$/, '') + text.slice(to).replace(/^[ \t]*(?:\r?\n)?/, '')
  }
}

function whatOf({ selectors, face, keyframes }: StyleRule): NowhereRule['what'] | null {
  if (face !== undefined) return 'typeface'
  if (keyframes !== undefined) return 'keyframes'
  return selectors.length > 0 ? 'selector' : null
}

const headOf = (css: string, { from, to }: Pick<StyleRule, 'from' | 'to'>): string => {
  const text = css.slice(from, to)
  const open = text.indexOf('{')
  return text
    .slice(0, open < 0 ? undefined : open)
    .replace(/\/\*[^]*?\*\//g, '')
    .replace(/\s+/g, ' ')
    .trim()
}

/** Names of classes and ids in selectors. */
function namesIn(selectors: string): string[] {
  const names: string[] = []
  try {
    walk(parseCss(selectors, { context: 'selectorList' }), (node) => {
      if (node.type === 'ClassSelector' || node.type === 'IdSelector') names.push(node.name.replace(/\\/g, ''))
    })
  } catch {
    return names
  }
  return names
}
