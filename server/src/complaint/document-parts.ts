import { parse, type DefaultTreeAdapterTypes } from 'parse5'
import type { DocumentPart } from '@unvelt/core'

type Node = DefaultTreeAdapterTypes.ChildNode

/** A part with where it stands in the source. */
export interface SourcePart extends DocumentPart {
  from: number
  to: number
}

/** More are not told apart: what is further in stays with what holds it. */
const MOST_PARTS = 2_000
/** Every document has them, whether they are written or not. */
const FIXED = new Set(['html', 'head', 'body'])

/** Elements, texts and comments of a document as its source has them; what the parser adds or moves is no part of its own. */
export function partsOf(source: string): SourcePart[] {
  const parts: SourcePart[] = []
  const walk = (nodes: readonly Node[], parent: number | null) => {
    for (const node of nodes) {
      const at = node.sourceCodeLocation
      const isBlank = node.nodeName === '#text' && (node as DefaultTreeAdapterTypes.TextNode).value.trim() === ''
      if (node.nodeName === '#documentType' || isBlank || parts.length >= MOST_PARTS) continue
      const within = parent === null ? null : parts[parent]!
      const isPlaced = at && (!within || (at.startOffset >= within.from && at.endOffset <= within.to))
      let id = parent
      if (isPlaced) {
        id = parts.length
        const isFixed = FIXED.has(node.nodeName)
        parts.push({ parent, from: at.startOffset, to: at.endOffset, ...(isFixed && { isFixed }) })
      }
      // What is in a script or a style is the part itself.
      if ('childNodes' in node && node.nodeName !== 'script' && node.nodeName !== 'style') walk(node.childNodes, id)
      if (node.nodeName === 'template') walk((node as DefaultTreeAdapterTypes.Template).content.childNodes, id)
    }
  }
  walk(parse(source, { sourceCodeLocationInfo: true }).childNodes, null)
  return parts
}

/** The source without what is not kept, as it was otherwise; lines that are empty by that go too. */
export function sourceOf(source: string, parts: readonly SourcePart[], kept: readonly number[]): string {
  const stays = new Set(kept)
  const cuts = parts.filter((_, id) => !stays.has(id)).sort((a, b) => a.from - b.from)
  let out = ''
  let at = 0
  for (const { from, to } of cuts) {
    if (from > at) out += source.slice(at, from)
    at = Math.max(at, to)
  }
  return (out + source.slice(at)).replace(/[ \t]+$/gm, '').replace(/\n{2,}/g, '\n')
}
