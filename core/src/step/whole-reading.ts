import { attribute, type Attribution } from '../attribution/attribute.js'
import type { AttributionSources } from '../attribution/sources.js'
import type { Reading } from '../reading/reading.js'
import { tolls, type Toll } from '../toll/toll.js'

/** A reading with the requests of its steps beside those of the load, so that what caused a later one can be found. */
export const withSteps = (reading: Reading): Reading => ({
  ...reading,
  requests: [...reading.requests, ...reading.steps.flatMap((step) => step.requests)],
})

/** Charges the requests of the load and of every step. */
export const attributeWithSteps = (reading: Reading, sources: AttributionSources): Attribution =>
  attribute(withSteps(reading), sources)

/** What each step of a reading loads, by payer: requests and bytes, in the order of the steps. */
export function stepTolls(reading: Reading, sources: AttributionSources): { step: string; tolls: Toll[] }[] {
  const attribution = attributeWithSteps(reading, sources)
  return reading.steps.map((step) => ({
    step: step.name,
    tolls: tolls(
      { ...reading, requests: step.requests, inlineCode: [], serverTiming: [], mainThread: [], fileUse: [] },
      { ...attribution, mainThread: [], inlineCode: [], elements: [] },
    ),
  }))
}
