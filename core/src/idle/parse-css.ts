import { parse, type CssNode, type ParseOptions } from 'css-tree'

/**
 * Parses CSS as if nothing had been parsed before. The parser keeps its table of tokens from one text to the next and looks
 * beyond the end of what it has written there: after a text with many open blocks, `{}}` and little more keeps it busy for
 * ever (css-tree 3.2.1). So the table is written over first, with tokens that open nothing.
 */
export function parseCss(css: string, options: ParseOptions): CssNode {
  parse(';'.repeat(css.length + 2), { context: 'declarationList' })
  return parse(css, options)
}
