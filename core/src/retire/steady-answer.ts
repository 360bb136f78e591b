/**
 * What of a page's HTML is the same from one answer to the next: its tags and the texts between them in their order, null where
 * they differed (times, tokens, random numbers).
 */
export type SteadyAnswer = (string | null)[]

/** The first place at which an answer is not what it was. */
export interface AnswerDifference {
  /** Which tag or text it is, counted from 1. */
  at: number
  was: string
  is: string
}

/**
 * What two answers to the same question have in common, place by place. Together the parts are the whole document, so that two
 * answers without a null that are the same are the same byte for byte.
 * @returns null where the two are not even equally long, and nothing can be held against another answer.
 */
export function steadyAnswer(one: string, other: string): SteadyAnswer | null {
  const a = partsOf(one)
  const b = partsOf(other)
  if (a.length !== b.length) return null
  return a.map((part, n) => (part === b[n] ? part : null))
}

/** Where an answer differs first from what it was; null where it is the same in all that is steady in both. */
export function answerDifference(was: SteadyAnswer, is: SteadyAnswer): AnswerDifference | null {
  const at = Array.from({ length: Math.max(was.length, is.length) }, (_, n) => n).find((n) => {
    const before = was[n]
    const after = is[n]
    return before !== null && after !== null && before !== after
  })
  return at === undefined ? null : { at: at + 1, was: was[at] ?? '', is: is[at] ?? '' }
}

/** Before each tag; inside of a script as well, where it does no harm. */
const partsOf = (html: string): string[] => html.split(/(?=<)/)
