import type { Attribution } from '../attribution/attribute.js'
import type { Reading } from '../reading/reading.js'
import { askings } from './asking.js'
import { withoutLooseEnds } from './going.js'

/** Addresses that the page's own HTML asks for, and nothing else, so that whoever rewrites it can change what comes. */
export function inHtmlAlone(reading: Reading, attribution: Attribution): ReadonlySet<string> {
  const { requests } = withoutLooseEnds(askings(reading, attribution))
  const found = new Set<string>()
  const others = new Set<string>()
  reading.requests.forEach(({ url }, index) => (requests[index]!.by === 'html' ? found : others).add(url))
  for (const url of others) found.delete(url)
  return found
}
