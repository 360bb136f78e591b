import { isUtf8 } from 'node:buffer'
import { hashOf } from '../made-copy/keep-made-copy.js'
import type { LookedThrough } from '../on-demand/on-demand.model.js'
import type { PackedAnswer } from '../site-http/fetch-packed.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import { cleanStyle, countsOf, goes } from './clean-style.js'
import { neverRan } from './never-ran.js'
import type { LookedForFile } from './looked-for.js'
import type { ScriptWords } from './script-words.js'

export interface ToLookThrough extends LookedForFile {
  type: 'style' | 'script'
  isOwn: boolean
}

/** Holds a file as the site sends it now against what pages and steps have used of it; what can't be told says why. */
export async function lookThrough(
  { unknown, used, bytes, ...file }: ToLookThrough,
  words: ScriptWords,
  fetchFile: (url: string) => Promise<PackedAnswer>,
): Promise<LookedThrough> {
  const { type, url, payer, isOwn, pageIds, sweeps } = file
  const told = { type, url, payer, isOwn, plain: bytes, pageIds, sweeps }
  const not = (why: string): LookedThrough => ({
    ...told,
    ...{ wire: 0, counts: [], rules: [], cleaned: null, cleanedWire: null, why },
  })
  // Where nobody knows what a page uses of it, nothing of it is known to be used nowhere.
  if (unknown > 0) return not(`What ${unknown} of ${pageIds.length} pages use of it is not known.`)
  try {
    const answer = await fetchFile(url)
    if (answer.status !== 200) return not(`It answered ${answer.status} when it was asked for by itself.`)
    if (answer.plain.length !== bytes) return not('It has changed since the sweep. Sweep once more, and look again.')
    const found = type === 'script' ? await neverRan(answer, url, used, words) : await cleanStyle(answer, used, words)
    if (!found) return not('Its code is not understood, or it takes too long.')
    const { rules, cleaned, wire, cleanedWire } = found
    const isLess = cleaned !== null && rules.some(goes)
    return {
      ...told,
      wire,
      counts: countsOf(rules),
      rules: rules.map(({ what, name, line, bytes, because }) => ({ what, name, line, bytes, because })),
      cleaned: isOwn && isLess ? cleaned : null,
      cleanedWire,
      // What is not UTF-8 was not read as its author meant it.
      from: isOwn && isLess && isUtf8(answer.plain) ? hashOf(answer.plain) : null,
      why: null,
    }
  } catch (error) {
    const { message } = error as Error
    return not(/^It is /.test(message) ? message : whyUnreachable(error, new URL(url).host))
  }
}
