import type { ConsentCost, ConsentSide } from '@unvelt/contract'
import { bytes, plural } from '../figures/format.js'

export const sideOf = ({ sides }: ConsentCost, side: ConsentSide['side']): ConsentSide | undefined =>
  sides.find((one) => one.side === side && one.failure === null)

/** What agreeing costs on the page, in one sentence; null where it is not known. */
export function consentSentence(cost: ConsentCost): string | null {
  const [before, agreed] = [sideOf(cost, 'before'), sideOf(cost, 'agreed')]
  if (!before || !agreed) return null
  const more = agreed.requests - before.requests
  const early = before.outsiders.length
  const costs =
    more > 0
      ? `For visitors who agree ${cost.path} makes ${plural(more, 'request')} and ${bytes(agreed.transferBytes - before.transferBytes)} more`
      : `For visitors who agree ${cost.path} makes no request more`
  return `${costs}; ${early === 0 ? 'no outsider is' : `${plural(early, 'outside host')} ${early === 1 ? 'is' : 'are'}`} asked before anybody has agreed.`
}

export const SIDE_WORDS: Record<ConsentSide['side'], string> = {
  before: 'before an answer',
  agreed: 'after agreeing',
  refused: 'after refusing',
}
