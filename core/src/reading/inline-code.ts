import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5'
import type { InlineCode } from './reading.js'

/** Inline code with what it says. */
export type InlineText = InlineCode & { text: string }

/** The scripts and styles written into a page, in document order. Data blocks (JSON and the like) are not code. */
export const findInlineCode = (html: string): InlineCode[] => inlineTexts(html).map(({ text: _, ...code }) => code)

/** The same, each with its text as a browser reads it. */
export function inlineTexts(html: string): InlineText[] {
  const found: InlineText[] = []
  const visit = (node: Tree.Node): void => {
    if ('tagName' in node) {
      const type = codeType(node)
      const location = node.sourceCodeLocation
      if (type && location) {
        const text = node.childNodes.map((child) => ('value' in child ? child.value : '')).join('')
        found.push({
          type,
          elementId: attribute(node, 'id') ?? null,
          hash: codeHash(text),
          bytes: utf8Length(text),
          startLine: location.startLine - 1,
          endLine: location.endLine - 1,
          text,
        })
      }
      if (node.nodeName === 'template') visit((node as Tree.Template).content)
    }
    if ('childNodes' in node) node.childNodes.forEach(visit)
  }
  visit(parse(html, { sourceCodeLocationInfo: true }))
  return found
}

const attribute = (element: Tree.Element, name: string) => element.attrs.find((a) => a.name === name)?.value

function codeType(element: Tree.Element): InlineCode['type'] | null {
  if (element.tagName === 'style') return 'style'
  if (element.tagName !== 'script' || attribute(element, 'src') !== undefined) return null
  const type = (attribute(element, 'type') ?? '').trim().toLowerCase()
  return type === '' || type === 'module' || /^(text|application)\/(java|ecma)script$/.test(type) ? 'script' : null
}

/** FNV-1a, 32 bit, of the trimmed text, as eight hexadecimal digits. Recognises pasted code; not for security. */
export function codeHash(text: string): string {
  let hash = 0x811c9dc5
  for (const byte of new TextEncoder().encode(text.trim())) hash = Math.imul(hash ^ byte, 0x01000193)
  return (hash >>> 0).toString(16).padStart(8, '0')
}

const utf8Length = (text: string) => new TextEncoder().encode(text).length
