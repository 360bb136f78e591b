import type { Reading } from '../reading/reading.js'
import { keptCopy } from './freshness.js'

/** Why the page of a reading is a copy that a cache had kept; null where it was made for the reading, or nothing says so. */
export function keptPage({ requests }: Reading): string | null {
  const page = requests.filter((request) => request.type === 'document').at(-1)
  return page ? keptCopy(page.responseHeaders) : null
}

/** The readings whose page was made afresh; all of them where none was. Copies are never averaged with the rest. */
export function freshOnes(readings: readonly Reading[]): Reading[] {
  const fresh = readings.filter((reading) => keptPage(reading) === null)
  return fresh.length > 0 ? fresh : [...readings]
}
