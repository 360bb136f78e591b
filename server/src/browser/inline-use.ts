import { toBytes, usedOfScript, type FileUse, type InlineText, type Range } from '@unvelt/core'
import type { CodeSeen } from './code-watch.js'

/** What of scripts, styles and inline code was used. */
export interface UseSeen {
  files: FileUse[]
  /** One entry for each piece of inline code; null where its use is not known. */
  inline: (Range[] | null)[]
}

/**
 * What of each inline script has run. The browser tells of it under the page's own address and without a place, so pieces
 * and what is told are matched by length, in the order of the page. Code that never came to be run is not known, and not idle.
 */
export function inlineScriptUse(
  coverage: CodeSeen['coverage'],
  pageUrl: string,
  codes: readonly InlineText[],
): (Range[] | null)[] {
  const told = coverage
    .filter(({ url }) => url === pageUrl)
    .sort((a, b) => Number(a.scriptId) - Number(b.scriptId))
    .map(({ functions }) => ({
      functions,
      length: Math.max(0, ...functions.flatMap(({ ranges }) => ranges.map(({ endOffset }) => endOffset))),
    }))
  return codes.map(({ type, text }) => {
    const at = type === 'script' ? told.findIndex(({ length }) => length === text.length) : -1
    if (at < 0) return null
    return toBytes(usedOfScript(told.splice(at, 1)[0]!.functions), text)
  })
}
