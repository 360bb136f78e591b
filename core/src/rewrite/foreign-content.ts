import { isSelfClosing, readAttributes } from './tag-syntax.js'

const BREAKOUTS = new Set(
  'b big blockquote body br center code dd div dl dt em embed h1 h2 h3 h4 h5 h6 head hr i img li listing menu meta nobr ol p pre ruby s small span strong strike sub sup table tt u ul var'.split(
    ' ',
  ),
)
const SVG_POINTS = new Set(['foreignobject', 'desc', 'title'])
const MATH_POINTS = new Set(['mi', 'mo', 'mn', 'ms', 'mtext'])

/** A piece of SVG or MathML, or of HTML inside one; `name` is the element that opened it. */
interface Level {
  language: 'html' | 'svg' | 'math'
  name: string
}

/**
 * Knows whether the parser stands in SVG or MathML, where scripts and styles are not raw text and CDATA exists (HTML
 * standard, section 13.2.6.5). Follows tags only; it builds no tree.
 */
export class ForeignContent {
  private readonly levels: Level[] = []

  get inside(): boolean {
    const language = this.levels.at(-1)?.language
    return language !== undefined && language !== 'html'
  }

  /** Whether any tag can matter; while not, only `svg` and `math` do. */
  get any(): boolean {
    return this.levels.length > 0
  }

  startTag(name: string, tag: string): void {
    const selfClosing = isSelfClosing(tag)
    const current = this.levels.at(-1)
    if (name === 'svg' || name === 'math') {
      if (!selfClosing) this.levels.push({ language: name, name })
      return
    }
    if (!current || current.language === 'html') return
    if (BREAKOUTS.has(name) || (name === 'font' && /\s(color|face|size)[\s=/>]/i.test(tag))) {
      while (this.inside) this.levels.pop()
      return
    }
    if (!selfClosing && opensHtml(current.language, name, tag)) this.levels.push({ language: 'html', name })
  }

  endTag(name: string): void {
    const current = this.levels.at(-1)
    if (current?.name === name) this.levels.pop()
    else if (this.inside && (name === 'p' || name === 'br')) while (this.inside) this.levels.pop()
  }
}

function opensHtml(language: 'svg' | 'math', name: string, tag: string): boolean {
  if (language === 'svg') return SVG_POINTS.has(name)
  if (MATH_POINTS.has(name)) return true
  if (name !== 'annotation-xml') return false
  const encoding = readAttributes(tag)
    .find((attribute) => attribute.name === 'encoding')
    ?.value.toLowerCase()
  return encoding === 'text/html' || encoding === 'application/xhtml+xml'
}
