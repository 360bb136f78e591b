import { clone, generate, walk, type CssNode, type List, type ListItem, type Rule } from 'css-tree'
import { faceKey } from '../font/face-key.js'
import { unite, type Range } from './byte-ranges.js'
import { parseCss } from './parse-css.js'
import { withoutDeep } from './without-deep.js'

/** A rule of a stylesheet, with what decides whether it is used. Offsets are UTF-16 code units. */
export interface StyleRule {
  from: number
  to: number
  /** To be asked of the page; a rule is used when one of them matches an element. Empty for rules without. */
  selectors: string[]
  /** Conditions of the blocks around it, outermost first. */
  media: string[]
  supports: string[]
  /** For font faces which one it is (`faceKey`), for keyframes the name; used when something else asks for them. */
  face?: string
  keyframes?: string
  /** Keyframes and families that its declarations name. */
  names: string[]
}

/** States that come and go with the pointer or focus: a rule for them is used when its element is there. */
const PASSING =
  /^(hover|active|focus|focus-visible|focus-within|visited|link|any-link|target|checked|disabled|enabled|placeholder-shown|invalid|valid|user-invalid|open|popover-open|fullscreen|autofill|-webkit-autofill|-moz-.*|-webkit-.*|-ms-.*)$/
const KEYFRAMES = /^(-webkit-)?keyframes$/
/** Of a stylesheet with more rules only the first ones are read, so that nothing can be said of the others. */
export const MOST_STYLE_RULES = 20_000

/** Reads the rules of a stylesheet. What can't be parsed is passed over, as browsers do, and is then never used. */
export function readStyleRules(css: string): StyleRule[] {
  const rules: StyleRule[] = []
  let tree: CssNode
  try {
    tree = parseCss(withoutDeep(css), {
      positions: true,
      parseValue: true,
      parseRulePrelude: true,
      onParseError: () => {},
    })
  } catch {
    return rules
  }
  const media: string[] = []
  const supports: string[] = []
  let insideKeyframes = 0
  walk(tree, {
    enter(node: CssNode) {
      if (rules.length >= MOST_STYLE_RULES) return
      if (node.type === 'Atrule') {
        const name = node.name.toLowerCase()
        const prelude = node.prelude ? generate(node.prelude) : ''
        if (name === 'media') media.push(prelude)
        else if (name === 'supports') supports.push(prelude)
        else if (name === 'font-face') rules.push(plain(node, media, supports, { face: faceOf(node) }))
        else if (KEYFRAMES.test(name)) {
          rules.push(plain(node, media, supports, { keyframes: prelude }))
          insideKeyframes += 1
        } else if (!node.block || !/^(layer|container|scope|starting-style|nest)$/.test(name))
          rules.push(plain(node, media, supports))
      } else if (node.type === 'Rule' && insideKeyframes === 0)
        rules.push({ ...plain(node, media, supports), selectors: selectorsOf(node) })
    },
    leave(node: CssNode) {
      if (node.type !== 'Atrule') return
      if (KEYFRAMES.test(node.name.toLowerCase())) insideKeyframes -= 1
      if (node.name.toLowerCase() === 'media') media.pop()
      else if (node.name.toLowerCase() === 'supports') supports.pop()
    },
  })
  return rules
}

/** What the page answers: which selectors match an element, which conditions hold, which families are drawn. */
export interface StyleAnswers {
  matches(selector: string): boolean
  media(query: string): boolean
  supports(condition: string): boolean
  /** Faces that are drawn with, each by its `faceKey`. */
  drawn: ReadonlySet<string>
}

/** What of a stylesheet is applied on a page, in UTF-16 code units. Space and comments between rules are nobody's. */
export function usedOfStyle(rules: readonly StyleRule[], page: StyleAnswers): Range[] {
  const holds = (rule: StyleRule) => rule.media.every(page.media) && rule.supports.every(page.supports)
  const used = rules.filter(
    (rule) =>
      holds(rule) &&
      rule.face === undefined &&
      rule.keyframes === undefined &&
      (rule.selectors.length === 0 || rule.selectors.some(page.matches)),
  )
  const named = new Set(used.flatMap((rule) => rule.names))
  const asked = rules.filter(
    (rule) =>
      holds(rule) &&
      ((rule.face !== undefined && page.drawn.has(rule.face)) ||
        (rule.keyframes !== undefined && named.has(rule.keyframes.toLowerCase()))),
  )
  return unite([...used, ...asked].map(({ from, to }): Range => [from, to]))
}

function plain(node: CssNode, media: string[], supports: string[], more: Partial<StyleRule> = {}): StyleRule {
  return {
    from: node.loc?.start.offset ?? 0,
    to: node.loc?.end.offset ?? 0,
    selectors: [],
    media: [...media],
    supports: [...supports],
    names: animationNames(node),
    ...more,
  }
}

function selectorsOf(rule: Rule): string[] {
  if (rule.prelude.type !== 'SelectorList') return []
  return rule.prelude.children.toArray().map(withoutPassing)
}

/** The selector without pseudo-elements and passing states, so that it can be asked of a page at rest. */
function withoutPassing(selector: CssNode): string {
  const copy = clone(selector)
  walk(copy, {
    enter(node: CssNode, item: ListItem<CssNode> | null, list: List<CssNode> | null) {
      const legacy = node.type === 'PseudoClassSelector' && /^(before|after|first-line|first-letter)$/.test(node.name)
      const passing = node.type === 'PseudoClassSelector' && PASSING.test(node.name.toLowerCase())
      if (list && item && (node.type === 'PseudoElementSelector' || legacy || passing)) list.remove(item)
    },
  })
  const text = generate(copy)
  // `a:hover` leaves `a`; `:hover` leaves nothing, and `x > :hover` a combinator without its right side.
  return text === '' ? '*' : text.replace(/([>+~ ])(?=$|,)/g, '$1*').replace(/^(?=[>+~])/, '*')
}

function animationNames(node: CssNode): string[] {
  const names: string[] = []
  walk(node, (inner) => {
    if (inner.type === 'Declaration' && /^(-webkit-)?animation(-name)?$/.test(inner.property.toLowerCase()))
      walk(inner.value, (value) => {
        if (value.type === 'Identifier') names.push(value.name.toLowerCase())
      })
  })
  return names
}

function faceOf(node: CssNode): string {
  const said = new Map<string, string>()
  walk(node, (inner) => {
    if (inner.type === 'Declaration') said.set(inner.property.toLowerCase(), generate(inner.value))
  })
  return faceKey(said.get('font-family') ?? '', said.get('font-weight'), said.get('font-style'))
}
