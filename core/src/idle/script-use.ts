import { unite, type Range } from './byte-ranges.js'

/** One function of a script with its blocks, as V8's precise coverage reports it. */
export interface FunctionCoverage {
  ranges: { startOffset: number; endOffset: number; count: number }[]
}

/**
 * What of a script has run, in UTF-16 code units. Blocks nest, and the innermost one that covers a place decides (V8's
 * block coverage, Chrome DevTools Protocol, Profiler.takePreciseCoverage).
 */
export function usedOfScript(functions: readonly FunctionCoverage[]): Range[] {
  const blocks = functions.flatMap(({ ranges }) => ranges).filter((r) => r.endOffset > r.startOffset)
  // Outer blocks first; of two that begin together the longer one is the outer.
  blocks.sort((a, b) => a.startOffset - b.startOffset || b.endOffset - a.endOffset)
  const used: Range[] = []
  const open: { end: number; count: number }[] = []
  let at = 0
  const upTo = (offset: number) => {
    if (offset > at && (open.at(-1)?.count ?? 0) > 0) used.push([at, offset])
    at = Math.max(at, offset)
  }
  for (const { startOffset, endOffset, count } of blocks) {
    while (open.length > 0 && open.at(-1)!.end <= startOffset) {
      upTo(open.at(-1)!.end)
      open.pop()
    }
    upTo(startOffset)
    open.push({ end: endOffset, count })
  }
  while (open.length > 0) {
    upTo(open.at(-1)!.end)
    open.pop()
  }
  return unite(used)
}
