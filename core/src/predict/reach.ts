import type { RequestRecord } from '../reading/reading.js'
import type { Effect } from '../rule/rule.js'
import type { AskedBy } from './asking.js'
import type { BasisRequest } from './basis.js'

/** Why nothing can take a request away while what asked for it stays. */
export type OutOfReachBecause =
  | 'a stylesheet names it'
  | 'a module imports it'
  | 'a frame asks for it'
  | 'a script loads the typeface'
  | 'a redirect leads to it'
  | 'it is a part of a glued file'
  | 'the page is in an encoding that is not rewritten'
  | 'the code is too long to be recognised'
  | 'it comes without its address being known as the add-on’s'
  | 'it can’t wait there'

/**
 * Why what asks for a request can't be kept from it by an effect, while it stays itself; null where it can. What the page's HTML
 * names the site doesn't print or the rewriter takes out (`tag-table.ts`), and what a script inserts the stopper refuses
 * (`stopper.ts`), both by the address alone.
 */
export function outOfReach(
  { type, isByAddress }: Pick<BasisRequest, 'type' | 'isByAddress'>,
  by: AskedBy,
  effect: Effect,
  isRewritable: boolean,
): OutOfReachBecause | null {
  if (!isByAddress) return 'it comes without its address being known as the add-on’s'
  switch (by) {
    case 'html':
      return isRewritable || effect === 'skip' ? null : 'the page is in an encoding that is not rewritten'
    case 'script':
      return type === 'font' ? 'a script loads the typeface' : null
    case 'style':
      return 'a stylesheet names it'
    case 'module':
      return 'a module imports it'
    case 'frame':
      return 'a frame asks for it'
    case 'redirect':
      return 'a redirect leads to it'
  }
}

/** Whether inline code can be taken out, or held, by an effect. */
export const isCodeInReach = (isLong: boolean, effect: Effect): boolean => effect === 'skip' || !isLong

/** Whether a request can wait: it stands in the HTML, in a tag that the holder knows. */
export const canBeHeld = ({ type }: Pick<BasisRequest, 'type'>, by: AskedBy): boolean =>
  by === 'html' && type !== 'font'

/** Whether another turn changes anything for a request. */
export const canBeReordered = ({ type }: Pick<BasisRequest, 'type'>, by: AskedBy, order: string): boolean =>
  by === 'html' && (type === 'script' || (type === 'style' && order === 'end'))

/** A page in UTF-16 goes through as it is: its syntax is no ASCII. */
export const isRewritable = (document: RequestRecord | undefined): boolean =>
  !/charset\s*=\s*"?utf-?(?:16|32)/i.test(
    `${document?.responseHeaders['content-type'] ?? ''} ${document?.mimeType ?? ''}`,
  )
