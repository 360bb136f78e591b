import { HtmlScanner, type TagHandler } from '../rewrite/html-scanner.js'
import { attributeText } from '../rewrite/page-text.js'
import { readAttributes } from '../rewrite/tag-syntax.js'
import type { InlineCode } from './reading.js'

/** Inline code with what it says. */
export type InlineText = InlineCode & { text: string }

/** The scripts and styles written into a page, in document order. Data blocks (JSON and the like) are not code. */
export const findInlineCode = (html: string): InlineCode[] => inlineTexts(html).map(({ text: _, ...code }) => code)

/** The same, each with its text as a browser reads it. Goes through any HTML once, however deep its elements stand. */
export function inlineTexts(html: string): InlineText[] {
  const finder = new InlineFinder(html)
  const scanner = new HtmlScanner(new Set(['script', 'style']), finder)
  scanner.read(html)
  scanner.finish()
  return finder.finish()
}

interface Open {
  name: 'script' | 'style'
  type: InlineCode['type'] | null
  elementId: string | null
  start: number
  contentStart: number
}

class InlineFinder implements TagHandler {
  private readonly found: InlineText[] = []
  private readonly place: (offset: number) => { line: number; column: number }
  private open: Open | null = null

  constructor(private readonly html: string) {
    this.place = places(html)
  }

  startTag(name: string, start: number, end: number, isForeign: boolean, isSelfClosing: boolean): void {
    // An SVG script can stand in another one; the outer one is what a browser runs.
    if (this.open) return
    const attributes = readAttributes(this.html.slice(start, end))
    const value = (of: string) => {
      const raw = attributes.find((attribute) => attribute.name === of)?.raw
      return raw === undefined ? undefined : attributeText(raw)
    }
    const isFile = value('src') !== undefined || (isForeign && (value('href') ?? value('xlink:href')) !== undefined)
    this.open = {
      name: name as Open['name'],
      type: name === 'style' ? 'style' : isFile ? null : scriptType(value('type') ?? ''),
      elementId: value('id') ?? null,
      start,
      contentStart: end,
    }
    if (isForeign && isSelfClosing) this.close(end, end)
  }

  endTag(name: string, start: number, end: number): void {
    if (this.open?.name === name) this.close(start, end)
  }

  finish(): InlineText[] {
    if (this.open) this.close(this.html.length, this.html.length)
    return this.found
  }

  private close(contentEnd: number, end: number): void {
    const { type, elementId, start, contentStart } = this.open!
    this.open = null
    if (type === null) return
    const text = this.html.slice(contentStart, contentEnd).replace(/\r\n?/g, '\n').replaceAll('\0', '\ufffd')
    const from = this.place(start)
    const to = this.place(end)
    this.found.push({
      type,
      elementId,
      hash: codeHash(text),
      bytes: utf8Length(text),
      startLine: from.line,
      startColumn: from.column,
      endLine: to.line,
      endColumn: to.column,
      text,
    })
  }
}

function scriptType(type: string): InlineCode['type'] | null {
  const said = type.trim().toLowerCase()
  return said === '' || said === 'module' || /^(text|application)\/(java|ecma)script$/.test(said) ? 'script' : null
}

/** Lines and columns, zero-based, of ever later places of a text; `\r`, `\n` and both together end a line. */
function places(text: string): (offset: number) => { line: number; column: number } {
  let line = 0
  let lineStart = 0
  const ends = /\r\n?|\n/g
  return (offset) => {
    for (;;) {
      ends.lastIndex = lineStart
      const next = ends.exec(text)
      if (!next || ends.lastIndex > offset) return { line, column: offset - lineStart }
      line++
      lineStart = ends.lastIndex
    }
  }
}

/** FNV-1a, 32 bit, of the trimmed text, as eight hexadecimal digits. Recognises pasted code; not for security. */
export function codeHash(text: string): string {
  let hash = 0x811c9dc5
  for (const byte of new TextEncoder().encode(text.trim())) hash = Math.imul(hash ^ byte, 0x01000193)
  return (hash >>> 0).toString(16).padStart(8, '0')
}

const utf8Length = (text: string) => new TextEncoder().encode(text).length
