import type { Attribution } from '../attribution/attribute.js'
import type { Reading, RequestRecord } from '../reading/reading.js'
import { wentOut } from '../reading/totals.js'
import { LONGEST_CODE } from '../rewrite/html-rewriter.js'
import { askings, type Askings } from './asking.js'
import { chargesOf, type Charges } from './charges.js'
import { withoutLooseEnds } from './going.js'
import { isRewritable } from './reach.js'
import { presentPayers } from './unloading.js'

/**
 * What of a reading decides what effects spare it: who asked for what, what each thing costs whom, and what a mechanism reaches.
 * Predictions (`predict.ts`) and groups (`page-groups.ts`) are both made of it.
 */
export interface PredictionBasis {
  /** Everybody who is charged with anything of the page. */
  payers: string[]
  /** Of the last document; missing where none came. */
  pageUrl?: string
  /** Whether the page is in an encoding that is rewritten. */
  isRewritable: boolean
  requests: BasisRequest[]
  /** Who asked for which request, each of them traced to the page's HTML. */
  asked: BasisAskings
  charges: Charges
  /** Of each piece of inline code whether it is too long to be recognised. */
  isLongCode: boolean[]
}

export type BasisAskings = Pick<Askings, 'requests' | 'askers' | 'addressOf'>

export interface BasisRequest {
  id: string
  url: string
  type: RequestRecord['type']
  payer: string
  /** Its address alone tells whose it is; otherwise who asked for it does. */
  isByAddress: boolean
  /** Of a glued file: its parts are told apart by its source map, not by the site that glued it. */
  isMapped: boolean
  /** Not from the browser's own cache. */
  wentOut: boolean
}

export function basisOf(reading: Reading, attribution: Attribution): PredictionBasis {
  const all = askings(reading, attribution)
  const asked = withoutLooseEnds(all)
  const document = reading.requests.filter(({ type }) => type === 'document').at(-1)
  return {
    payers: [...presentPayers(reading, attribution)],
    ...(document && { pageUrl: document.url }),
    isRewritable: isRewritable(document),
    requests: reading.requests.map((request): BasisRequest => {
      const { payer, evidence, because } = attribution.requests.get(request.id)!
      return {
        id: request.id,
        url: request.url,
        type: request.type,
        payer,
        isByAddress: evidence !== 'initiator' && evidence !== 'inline',
        isMapped: because.startsWith('source map'),
        wentOut: wentOut(request),
      }
    }),
    asked: { requests: asked.requests, askers: asked.askers, addressOf: asked.addressOf },
    charges: chargesOf(reading, attribution, all.addresses),
    isLongCode: reading.inlineCode.map(({ bytes }) => bytes > LONGEST_CODE),
  }
}
