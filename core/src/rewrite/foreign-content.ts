import { attributeText } from './page-text.js'
import { readAttributes } from './tag-syntax.js'

const BREAKOUTS = new Set(
  'b big blockquote body br center code dd div dl dt em embed h1 h2 h3 h4 h5 h6 head hr i img li listing menu meta nobr ol p pre ruby s small span strong strike sub sup table tt u ul var'.split(
    ' ',
  ),
)
const SVG_POINTS = new Set(['foreignobject', 'desc', 'title'])
const MATH_POINTS = new Set(['mi', 'mo', 'mn', 'ms', 'mtext'])
/** Elements that open a piece of SVG or MathML, or of HTML inside one. */
const OPENERS = ['svg', 'math', ...SVG_POINTS, ...MATH_POINTS, 'annotation-xml']
const NUMBERS = new Map(OPENERS.map((name, n) => [name, n]))
const SVG = 0
const MATH = 1

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

  private get language(): 'html' | 'svg' | 'math' {
    if (!this.inside) return 'html'
    return this.levels[this.depth - 1] === SVG ? 'svg' : 'math'
  }

  /** `tag` gives its whole text; nothing for one that was too long to be read. */
  startTag(name: string, tag: () => string, isSelfClosing: boolean): void {
    if (name === 'svg' || name === 'math') {
      if (!isSelfClosing) this.open(name)
      return
    }
    const { language } = this
    if (language === 'html') return
    if (BREAKOUTS.has(name) || (name === 'font' && /\s(color|face|size)[\s=/>]/i.test(tag()))) {
      while (this.inside) this.depth--
      return
    }
    if (!isSelfClosing && opensHtml(language, name, tag)) this.open(name)
  }

  endTag(name: string): void {
    if (this.depth > 0 && this.levels[this.depth - 1] === NUMBERS.get(name)) this.depth--
    else if (this.inside && (name === 'p' || name === 'br')) while (this.inside) this.depth--
  }

  private open(name: string): void {
    if (this.depth === this.levels.length) {
      const grown = new Uint8Array(2 * this.depth)
      grown.set(this.levels)
      this.levels = grown
    }
    this.levels[this.depth++] = NUMBERS.get(name)!
  }
}

function opensHtml(language: 'svg' | 'math', name: string, tag: () => string): boolean {
  if (language === 'svg') return SVG_POINTS.has(name)
  if (MATH_POINTS.has(name)) return true
  const text = name === 'annotation-xml' ? tag() : ''
  if (text === '') return false
  const encoding = readAttributes(text).find((attribute) => attribute.name === 'encoding')
  return /^(?:text\/html|application\/xhtml\+xml)$/i.test(attributeText(encoding?.raw ?? ''))
}
