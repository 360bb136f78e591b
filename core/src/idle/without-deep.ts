import { tokenize, tokenTypes } from 'css-tree'

/** Blocks and brackets in each other, as nobody writes them by hand; the parser and every walk take one call for each. */
const DEEPEST = 64

/** A stylesheet with blanks for what stands in more blocks and brackets than anybody writes; everything else keeps its place. */
export function withoutDeep(css: string): string {
  let depth = 0
  let from = -1
  let copied = 0
  const pieces: string[] = []
  const blank = (to: number) => {
    pieces.push(css.slice(copied, from), ' '.repeat(to - from))
    copied = to
    from = -1
  }
  tokenize(css, (type, start, end) => {
    if (OPENING.has(type)) {
      if (++depth === DEEPEST + 1) from = start
    } else if (CLOSING.has(type) && depth > 0 && depth-- === DEEPEST + 1) blank(end)
  })
  if (from >= 0) blank(css.length)
  return pieces.length === 0 ? css : pieces.join('') + css.slice(copied)
}

const OPENING = new Set<number>([
  tokenTypes.LeftCurlyBracket,
  tokenTypes.LeftParenthesis,
  tokenTypes.LeftSquareBracket,
  tokenTypes.Function,
])
const CLOSING = new Set<number>([
  tokenTypes.RightCurlyBracket,
  tokenTypes.RightParenthesis,
  tokenTypes.RightSquareBracket,
])
