import { heldByScripts, MAY_BE_NEEDED, type NowhereRule, type Range } from '@unvelt/core'
import type { NowhereCount } from '@unvelt/contract'
import { parseApart } from '../parse/parse-apart.js'
import type { PackedAnswer } from '../site-http/fetch-packed.js'
import { brotliSize, gzipSize } from '../site-http/usual-packing.js'
import type { ScriptWords } from './script-words.js'

export interface CleanedStyle {
  rules: NowhereRule[]
  /** Without what nothing speaks for, typefaces aside: what is declared and drawn nowhere is not even fetched. */
  cleaned: string
  /** Bytes over the wire of the file and of the cleaned one, packed alike. */
  wire: number
  cleanedWire: number
}

/** Whether a rule goes: nothing speaks for it, and it costs more than its own line. */
export const goes = ({ because, what }: Pick<NowhereRule, 'because' | 'what'>): boolean =>
  because === null && what !== 'typeface'

/** What of a stylesheet is used nowhere, and the file without it; null where its code is not understood in time. */
export async function cleanStyle(
  { plain, encoding, wire }: Pick<PackedAnswer, 'plain' | 'encoding' | 'wire'>,
  used: readonly Range[],
  words: ScriptWords,
): Promise<CleanedStyle | null> {
  const css = plain.toString('utf8')
  const found = await parseApart('nowhere', JSON.stringify({ css, used }))
  if (!found) return null
  const rules = heldByScripts(found, (name) => words.has(name))
  const gone = rules.filter(goes)
  if (gone.length === 0) return { rules, cleaned: css, wire: wire.length, cleanedWire: wire.length }
  const cleaned = await parseApart('cleaned', JSON.stringify({ css, gone: gone.map(({ from, to }) => ({ from, to })) }))
  if (cleaned === null) return null
  // Against the file packed the same way here: the site may pack harder than this.
  const [before, after] = await Promise.all([packed(plain, encoding), packed(Buffer.from(cleaned), encoding)])
  return { rules, cleaned, wire: wire.length, cleanedWire: Math.round((wire.length * after) / Math.max(1, before)) }
}

async function packed(body: Buffer, encoding: string): Promise<number> {
  if (encoding === 'br') return brotliSize(body)
  return encoding === '' ? body.length : gzipSize(body)
}

/** How many rules go, and how many are kept for which reason. */
export function countsOf(rules: readonly Pick<NowhereRule, 'because' | 'bytes'>[]): NowhereCount[] {
  return [null, ...MAY_BE_NEEDED].flatMap((because): NowhereCount[] => {
    const of = rules.filter((rule) => rule.because === because)
    return of.length === 0 ? [] : [{ because, rules: of.length, bytes: of.reduce((sum, { bytes }) => sum + bytes, 0) }]
  })
}
