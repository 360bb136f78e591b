import type { Reading } from '../reading/reading.js'
import { apportion } from '../glue/apportion.js'
import type { Attribution } from './attribute.js'
import { CONTENT } from './evidence.js'

/**
 * DOM elements by payer: those that a script made are charged to whoever pays for the script, by the innermost call that is
 * neither the CMS's nor the page's own. All others came with the HTML: those that an add-on wrote, by the site's own word, are
 * charged to it, and the rest is the page's. They add up to what was counted.
 */
export function elementsByPayer(reading: Reading, attribution: Attribution): Map<string, number> {
  const payers = new Map<string, number>()
  reading.elementMakers.forEach(({ elements }, index) => {
    const payer = attribution.elements[index]?.payer ?? CONTENT
    payers.set(payer, (payers.get(payer) ?? 0) + elements)
  })
  const fromHtml = reading.elementMakers.reduce(
    (sum, { stack, elements }) => sum + (stack.length > 0 ? 0 : elements),
    0,
  )
  const writers = reading.elementWriters ?? []
  const claimed = writers.reduce((sum, { elements }) => sum + elements, 0)
  // Scripts may have taken some of them away again; which ones, nobody knows.
  const shares =
    claimed <= fromHtml
      ? writers.map((w) => w.elements)
      : apportion(
          fromHtml,
          writers.map((w) => w.elements),
        )
  writers.forEach(({ addon }, n) => {
    if (shares[n] === 0) return
    payers.set(addon, (payers.get(addon) ?? 0) + shares[n]!)
    payers.set(CONTENT, payers.get(CONTENT)! - shares[n]!)
  })
  return payers
}
