import { attributeText } from './page-text.js'
import { readAttributes } from './tag-syntax.js'

const BREAKOUTS =
  'b big blockquote body br center code dd div dl dt em embed h1 h2 h3 h4 h5 h6 head hr i img li listing menu meta nobr ol p pre ruby s small span strong strike sub sup table tt u ul var'.split(
    ' ',
  )
const SVG_POINTS = ['foreignobject', 'desc', 'title']
const MATH_POINTS = ['mi', 'mo', 'mn', 'ms', 'mtext']
const SVG = 0
const MATH = 1
const FONT = 98
const BREAKOUT = 99
const FIRST_SVG_POINT = 2
const FIRST_MATH_POINT = FIRST_SVG_POINT + SVG_POINTS.length
const ANNOTATION = FIRST_MATH_POINT + MATH_POINTS.length
/** What a name does there: opens a piece of SVG or MathML, or of HTML inside one, or ends all of them. */
const ROLES = new Map<string, number>([
  ...['svg', 'math', ...SVG_POINTS, ...MATH_POINTS, 'annotation-xml'].map((name, n): [string, number] => [name, n]),
  ...BREAKOUTS.map((name): [string, number] => [name, BREAKOUT]),
  ['font', FONT],
])

export const NO_ROLE = -1
export const foreignRole = (name: string): number => ROLES.get(name) ?? NO_ROLE

/**
 * Knows whether the parser stands in SVG or MathML, where scripts and styles are not raw text and CDATA exists (HTML
 * standard, section 13.2.6.5). Follows tags only; it builds no tree, and remembers one byte for each piece in another.
 */
export class ForeignContent {
  private levels = new Uint8Array(64)
  private depth = 0

  get inside(): boolean {
    return this.depth > 0 && this.levels[this.depth - 1]! <= MATH
  }

  /** Whether any tag can matter; while not, only `svg` and `math` do. */
  get any(): boolean {
    return this.depth > 0
  }

  /** The tag stands in `text` from `start` to `end`; nowhere, if it was too long to be read. */
  startTag(role: number, text: string, start: number, end: number, isSelfClosing: boolean): void {
    if (role === NO_ROLE) return
    if (role <= MATH) {
      if (!isSelfClosing) this.open(role)
      return
    }
    if (!this.inside) return
    if (role === BREAKOUT || (role === FONT && /\s(color|face|size)[\s=/>]/i.test(text.slice(start, end)))) {
      while (this.inside) this.depth--
      return
    }
    if (isSelfClosing || role === FONT) return
    const isPoint =
      this.levels[this.depth - 1] === SVG
        ? role < FIRST_MATH_POINT
        : role >= FIRST_MATH_POINT && (role < ANNOTATION || isHtmlAnnotation(text.slice(start, end)))
    if (isPoint) this.open(role)
  }

  endTag(name: string, role: number): void {
    if (this.depth > 0 && this.levels[this.depth - 1] === role) this.depth--
    else if (this.inside && (name === 'p' || name === 'br')) while (this.inside) this.depth--
  }

  private open(role: number): void {
    if (this.depth === this.levels.length) {
      const grown = new Uint8Array(2 * this.depth)
      grown.set(this.levels)
      this.levels = grown
    }
    this.levels[this.depth++] = role
  }
}

function isHtmlAnnotation(tag: string): boolean {
  if (tag === '') return false
  const encoding = readAttributes(tag).find((attribute) => attribute.name === 'encoding')
  return /^(?:text\/html|application\/xhtml\+xml)$/i.test(attributeText(encoding?.raw ?? ''))
}
