import type { GuardResult } from '../guard/guards.js'

/** A change that may have broken something. */
export interface Suspect {
  id: string
  /** Payer that it is about. */
  addon: string
  /** Names by which the add-on's things are called in a page: its slug, its handles, its name. */
  names: readonly string[]
  /** Add-ons that need it. */
  neededBy: readonly string[]
  /** Whether the add-on was seen in use on the page, and whether it costs the page anything. */
  isUsed: boolean
  isThere: boolean
  /** Whether it is another version than when all was well. */
  isChanged?: boolean
}

export interface Suspicion {
  id: string
  /** Reasons, the strongest first; none where it is suspected like any other. */
  reasons: ('named' | 'its file' | 'needed' | 'changed' | 'used' | 'there')[]
}

const WEIGHT = { named: 8, 'its file': 6, needed: 4, changed: 5, used: 2, there: 1 } as const
const LEAST_NAME = 4

/**
 * Puts those first whom the evidence names: what is missed or complains bears its name; an address in it is one of its files;
 * whose file complains needs it; it was in use here; it was here at all.
 * @param payerOf Whose file is at an address; null where nobody knows.
 */
export function bySuspicion(
  suspects: readonly Suspect[],
  { gone, came }: Pick<GuardResult, 'gone' | 'came'>,
  payerOf: (address: string) => string | null,
): Suspicion[] {
  const texts = [...gone, ...came]
  const plain = texts.map(squeezed)
  const filed = new Set(texts.flatMap(addressesIn).flatMap((address) => payerOf(address) ?? []))
  const weighed = suspects.map(({ id, addon, names, neededBy, isUsed, isThere, isChanged = false }) => {
    const reasons: Suspicion['reasons'] = []
    const called = names.map(squeezed).filter((name) => name.length >= LEAST_NAME)
    if (plain.some((text) => called.some((name) => text.includes(name)))) reasons.push('named')
    if (filed.has(addon)) reasons.push('its file')
    if (neededBy.some((other) => filed.has(other))) reasons.push('needed')
    if (isChanged) reasons.push('changed')
    if (isUsed) reasons.push('used')
    else if (isThere) reasons.push('there')
    return { id, reasons, weight: reasons.reduce((sum, reason) => sum + WEIGHT[reason], 0) }
  })
  return weighed.sort((a, b) => b.weight - a.weight).map(({ id, reasons }) => ({ id, reasons }))
}

/** Whether something speaks for it that not everything on the page has in common. */
export const isLead = ({ reasons }: Suspicion): boolean => reasons.some((reason) => reason !== 'there')

/** `Root_Lib is not defined` and `root-lib` name one thing. */
const squeezed = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '')

const addressesIn = (text: string): string[] =>
  (text.match(/(?:https?:\/\/[^\s"'()<>]+|\/[^\s"'()<>]+\.(?:m?js|css|woff2?|svg|png|jpe?g|webp|json))/g) ?? []).map(
    (address) => address.replace(/:\d+(?::\d+)?$/, ''),
  )
