import type { Attribution } from '../attribution/attribute.js'
import { NOT_ADDONS } from '../attribution/evidence.js'
import { neededLater } from '../idle/needed-later.js'
import type { Reading } from '../reading/reading.js'

/** What one reading shows of a payer's use. */
export interface Seen {
  payer: string
  because: string
}

/** Code that a step runs is more than a listener that looks and goes back to sleep from here on. In bytes. */
const LEAST_RUN_BYTES = 64

/**
 * Signs of use in one reading: elements that the payer's scripts made and that are in sight, code of it that ran in a
 * step and not in the load, typefaces that were drawn. What is merely loaded is no sign.
 *
 * @param attribution of the reading with the requests of its steps
 */
export function seenInUse(reading: Reading, attribution: Attribution): Seen[] {
  return [
    ...elementsInSight(reading, attribution),
    ...ranInStep(reading, attribution),
    ...typefacesDrawn(reading, attribution),
  ].filter(({ payer }) => !NOT_ADDONS.includes(payer))
}

function elementsInSight(reading: Reading, attribution: Attribution): Seen[] {
  const counts = new Map<string, number>()
  reading.elementMakers.forEach(({ inSight = 0 }, index) => {
    const payer = attribution.elements[index]?.payer
    if (payer && inSight > 0) counts.set(payer, (counts.get(payer) ?? 0) + inSight)
  })
  return [...counts].map(([payer, count]) => ({
    payer,
    because: `${count} ${count === 1 ? 'element' : 'elements'} in sight that its script made`,
  }))
}

function ranInStep(reading: Reading, attribution: Attribution): Seen[] {
  const bytes = new Map<string, number>()
  for (const [id, needed] of neededLater(reading)) {
    const payer = attribution.requests.get(id)?.payer
    if (payer && typeOf(reading, id) === 'script') bytes.set(payer, (bytes.get(payer) ?? 0) + needed)
  }
  return [...bytes]
    .filter(([, ran]) => ran >= LEAST_RUN_BYTES)
    .map(([payer, ran]) => ({ payer, because: `${ran.toLocaleString('en')} bytes of it ran only in a step` }))
}

function typeOf(reading: Reading, id: string): string | undefined {
  const all = [reading.requests, ...reading.steps.map((step) => step.requests)]
  for (const requests of all) for (const request of requests) if (request.id === id) return request.type
  return undefined
}

/** A browser fetches a typeface only when something is drawn with it. */
function typefacesDrawn(reading: Reading, attribution: Attribution): Seen[] {
  const counts = new Map<string, number>()
  for (const { id, type, failure } of reading.requests) {
    const payer = attribution.requests.get(id)?.payer
    if (payer && type === 'font' && !failure) counts.set(payer, (counts.get(payer) ?? 0) + 1)
  }
  return [...counts].map(([payer, count]) => ({
    payer,
    because: `${count} ${count === 1 ? 'typeface' : 'typefaces'} drawn`,
  }))
}
