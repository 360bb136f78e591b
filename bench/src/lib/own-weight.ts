import type { Browser } from 'playwright-core'
import { idleByRequest, readingTotals } from '@unvelt/core'
import { FIRST_LENSES, readPage, type ReadingOrder } from '@unvelt/server'

/** Every place of the interface, below a site's address. */
export const PLACES = [
  'standing',
  'ledger',
  'add-ons',
  'add-ons/canopy-slider',
  'pages',
  'outside',
  'rules',
  'weigh-ins',
  'retirements',
  'proof',
  'settings',
]

export interface OwnWeight {
  place: string
  /** Bytes on the wire, of all and of what the API answers. */
  transferBytes: number
  dataBytes: number
  requests: number
  /** Of the decoded bytes of scripts, what did not run. */
  idleShare: number
}

const lensNamed = (words: RegExp) => FIRST_LENSES.find(({ name }) => words.test(name))!.settings
type OwnLens = 'desk' | 'handset' | 'second view'
export const OWN_LENSES: Record<OwnLens, ReadingOrder['lens']> = {
  desk: lensNamed(/^Desk, wired.*cold/),
  handset: { ...lensNamed(/^Handset, 4G/), network: null },
  'second view': lensNamed(/second view/),
}

/** What a place of Unvelt itself weighs, by its own engine. */
export async function ownWeight(browser: Browser, site: string, place: string, lens: OwnLens): Promise<OwnWeight> {
  const url = `${site}/${place}`
  // Nothing is timed, so nothing has to be slowed.
  const reading = await readPage(browser, { reach: 'anywhere', url, lens: OWN_LENSES[lens], untimed: true })
  const { requests, transferBytes } = readingTotals(reading)
  const idle = idleByRequest(reading)
  const scripts = reading.requests.filter(({ type }) => type === 'script')
  const decoded = scripts.reduce((sum, request) => sum + request.decodedBytes, 0)
  const isData = (address: string) => new URL(address).pathname.startsWith('/api/')
  return {
    place,
    transferBytes,
    requests,
    dataBytes: reading.requests.filter(({ url }) => isData(url)).reduce((sum, one) => sum + one.transferBytes, 0),
    idleShare: scripts.reduce((sum, { id }) => sum + (idle.get(id) ?? 0), 0) / Math.max(1, decoded),
  }
}
