import type { ShareMeasure, SharedFigure } from '@unvelt/contract'
import { signed } from '../figures/format.js'
import { measureWords } from '../proof/proof-words.js'

/** The difference that a share makes: what is spared is less. */
export const differenceWords = (measure: string, spared: number): string =>
  signed(spared === 0 ? 0 : -spared, measureWords(measure).long)

/** From where to where it is with 95 % certainty; empty where that says no more than the figure. */
export function rangeWords(measure: string, { low, high }: SharedFigure): string {
  if (low === null || high === null) return 'read once'
  const [from, to] = [differenceWords(measure, high), differenceWords(measure, low)]
  return from === to ? '' : `${from} to ${to}`
}

/** A share of less than that of what the page was is none. */
const NONE = 0.0005

/** The share in a word or a figure. */
export const shareWords = ({ measure, before }: ShareMeasure, { word, estimate }: SharedFigure): string =>
  word !== 'nothing'
    ? differenceWords(measure, estimate)
    : Math.abs(estimate) <= NONE * Math.abs(before)
      ? 'nothing'
      : 'too little'

/** So much of the total may go unsaid. */
const LITTLE = 0.01

/** What the changes do to each other, where what they spare alone does not add up to what they spare together. */
export function togetherWords({ measure, total, each }: ShareMeasure): string | null {
  const more = total.estimate - each.reduce((sum, { alone }) => sum + alone, 0)
  if (total.word !== 'gives' || Math.abs(more) <= LITTLE * Math.abs(total.estimate)) return null
  const { long, name } = measureWords(measure)
  return more > 0
    ? `${name}: ${long(more)} go only where several of them are made together.`
    : `${name}: ${long(-more)} go by any of several alike, so they are shared between these.`
}
