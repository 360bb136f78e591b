import { heldByScripts, type NowhereRule, type Range } from '@unvelt/core'
import { parseApart } from '../parse/parse-apart.js'
import type { PackedAnswer } from '../site-http/fetch-packed.js'
import type { ScriptWords } from './script-words.js'

/**
 * Which functions of a script never ran; null where its code is not understood in time. No script is cleaned of them: that
 * nobody names a function doesn't prove that nobody calls it.
 */
export async function neverRan(
  { plain, wire }: Pick<PackedAnswer, 'plain' | 'wire'>,
  url: string,
  used: readonly Range[],
  words: ScriptWords,
): Promise<{ rules: NowhereRule[]; cleaned: null; wire: number; cleanedWire: null } | null> {
  const found = await parseApart('idle functions', JSON.stringify({ code: plain.toString('utf8'), used }))
  if (!found) return null
  const rules = heldByScripts(found, (name) => words.hasElsewhere(name, url))
  return { rules, cleaned: null, wire: wire.length, cleanedWire: null }
}
