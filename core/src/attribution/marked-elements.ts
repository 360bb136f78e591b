import { HtmlScanner } from '../rewrite/html-scanner.js'

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
  const scanner = new HtmlScanner(new Set(), {
    startTag: () => {
      const writer = open.at(-1)
      // What a template holds in store is no element of the page; the template itself is.
      if (writer !== undefined && !wasInTemplate) counted.set(writer, (counted.get(writer) ?? 0) + 1)
      wasInTemplate = scanner.isInTemplate
    },
    endTag: () => (wasInTemplate = scanner.isInTemplate),
    comment: (start, end) => hear(html.slice(start, end).trim()),
  })
  let wasInTemplate = false
  const hear = (comment: string) => {
    if (wasInTemplate) return
    const [, begun] = BEGIN.exec(comment) ?? []
    // Deeper than this nobody writes; what a mark means must stay cheap to know.
    if (begun !== undefined && open.length < MOST_OPEN) open.push(begun)
    const [, ended] = END.exec(comment) ?? []
    const at = ended === undefined ? -1 : open.lastIndexOf(ended)
    if (at >= 0) open.length = at
  }
  scanner.everything = true
  scanner.read(html)
  scanner.finish()
  return counted
}

const MOST_OPEN = 1_000
