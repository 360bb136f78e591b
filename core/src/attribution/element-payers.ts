import type { Reading } from '../reading/reading.js'
import type { Attribution } from './attribute.js'
import { CONTENT } from './evidence.js'

/**
 * DOM elements by payer: those that a script made are charged to whoever pays for the script, by the innermost call that is
 * neither the CMS's nor the page's own; all others came with the HTML and are the page's. They add up to what was counted.
 */
export function elementsByPayer(reading: Reading, attribution: Attribution): Map<string, number> {
  const payers = new Map<string, number>()
  reading.elementMakers.forEach(({ elements }, index) => {
    const payer = attribution.elements[index]?.payer ?? CONTENT
    payers.set(payer, (payers.get(payer) ?? 0) + elements)
  })
  return payers
}
