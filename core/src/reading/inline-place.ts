import type { InlineCode } from './reading.js'

/**
 * Which piece of inline code stands at a place of the document, as its place in the list; -1 where none does. Lines and columns
 * are zero-based. Where several pieces share a line, the column decides; without a column, or where the code's own columns are
 * not known, a line that belongs to more than one piece says nothing.
 */
export function inlineAt(code: readonly InlineCode[]): (line: number, column?: number) => number {
  const byLine = new Map<number, number[]>()
  let tall: number[] = []
  code.forEach(({ startLine, endLine }, index) => {
    // Few pieces are so long that their lines are not worth listing one by one.
    if (endLine - startLine > LISTED_LINES) tall.push(index)
    else
      for (let line = startLine; line <= endLine; line++) {
        const there = byLine.get(line)
        if (there) there.push(index)
        else byLine.set(line, [index])
      }
  })
  tall = tall.sort((a, b) => a - b)
  return (line, column) => {
    const there = [
      ...(byLine.get(line) ?? []),
      ...tall.filter((index) => line >= code[index]!.startLine && line <= code[index]!.endLine),
    ]
    if (there.length === 0) return -1
    if (column === undefined) return there.length === 1 ? there[0]! : -1
    if (there.length > 1 && there.some((index) => code[index]!.startColumn === undefined)) return -1
    const within = there.find((index) => holds(code[index]!, line, column))
    return within ?? -1
  }
}

const LISTED_LINES = 200

function holds({ startLine, startColumn, endLine, endColumn }: InlineCode, line: number, column: number): boolean {
  if (line === startLine && startColumn !== undefined && column < startColumn) return false
  return !(line === endLine && endColumn !== undefined && column > endColumn)
}
