import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5'

const BEGIN = /^unvelt:([a-z0-9][a-z0-9_-]{0,99})$/
const END = /^\/unvelt:([a-z0-9][a-z0-9_-]{0,99})$/

/**
 * Elements by the add-on that wrote them, read off the marks that a site puts around what each add-on prints
 * (`<!--unvelt:SLUG-->` to `<!--/unvelt:SLUG-->`, see docs/connector.md). The innermost mark decides; an end without its
 * beginning says nothing. Elements outside of all marks are not in it, nor is what a template holds in store.
 */
export function markedElements(html: string): Map<string, number> {
  const counted = new Map<string, number>()
  const open: string[] = []
  const visit = (node: Tree.Node): void => {
    if (node.nodeName === '#comment') hear((node as Tree.CommentNode).data.trim())
    else if ('tagName' in node) {
      const writer = open.at(-1)
      if (writer !== undefined) counted.set(writer, (counted.get(writer) ?? 0) + 1)
    }
    if ('childNodes' in node) node.childNodes.forEach(visit)
  }
  const hear = (comment: string) => {
    const [, begun] = BEGIN.exec(comment) ?? []
    if (begun !== undefined) open.push(begun)
    const [, ended] = END.exec(comment) ?? []
    const at = ended === undefined ? -1 : open.lastIndexOf(ended)
    if (at >= 0) open.length = at
  }
  visit(parse(html))
  return counted
}
