import type { AttributionSources } from '../attribution/sources.js'
import { CONTENT } from '../attribution/evidence.js'
import { planRewrite } from '../rewrite/rewrite-plan.js'
import { noToll, type Toll } from '../toll/toll.js'
import type { PredictedEffect } from './predict.js'

/** The scripts that the rewriter puts in the page: in bytes of its HTML before it is compressed. */
export function addedScripts(
  effects: readonly PredictedEffect[],
  sources: AttributionSources | undefined,
  pageUrl: string | undefined,
): Toll[] {
  // What is skipped the site doesn't print, and nothing has to be refused; without an effect nothing is put in.
  const inHtml = effects.filter(({ effect }) => !['skip', 'keep', 'set'].includes(effect))
  if (!sources || pageUrl === undefined || inHtml.length === 0) return []
  const resolved = effects.map((effect) => ({ ...effect, rules: [], conflictsWith: [] }))
  const { first } = planRewrite({ effects: resolved, sources, pageUrl })
  return first === '' ? [] : [{ ...noToll(CONTENT), decodedBytes: new TextEncoder().encode(first).length }]
}
