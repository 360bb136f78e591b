import { apportion } from '../glue/apportion.js'
import type { Reading } from '../reading/reading.js'
import type { Attribution } from './attribute.js'
import { CONTENT } from './evidence.js'

/** DOM elements of one payer. */
export interface ElementCount {
  /** Came with the HTML. */
  written: number
  /** Made in the browser. */
  made: number
}

/**
 * DOM elements by payer: those that a script made are charged to whoever pays for the script, by the innermost call that is
 * neither the CMS's nor the page's own. All others came with the HTML: those that an add-on wrote, by the site's own word, are
 * charged to it, and the rest is the page's. They add up to what was counted.
 */
export function elementsByPayer(reading: Reading, attribution: Attribution): Map<string, ElementCount> {
  const payers = new Map<string, ElementCount>()
  const add = (payer: string, kind: keyof ElementCount, elements: number) => {
    const count = payers.get(payer) ?? { written: 0, made: 0 }
    count[kind] += elements
    if (elements !== 0) payers.set(payer, count)
  }
  let written = 0
  reading.elementMakers.forEach(({ stack, elements }, index) => {
    if (stack.length === 0) written += elements
    else add(attribution.elements[index]?.payer ?? CONTENT, 'made', elements)
  })
  const writers = reading.elementWriters ?? []
  const told = writers.map(({ elements }) => elements)
  const claimed = told.reduce((sum, elements) => sum + elements, 0)
  // Scripts may have taken some of them away again; which ones, nobody knows.
  const shares = claimed <= written ? told : apportion(written, told)
  writers.forEach(({ addon }, n) => add(addon, 'written', shares[n]!))
  add(CONTENT, 'written', written - shares.reduce((sum, share) => sum + share, 0))
  return payers
}
