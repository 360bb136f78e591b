import { ownAddress } from '@unvelt/core'
import { ReadingFailure } from '../reading/failure.js'

/** The address of something on a site. @throws ReadingFailure where it would lead anywhere else. */
export function siteAddress(origin: string, address: string): URL {
  const url = ownAddress(origin, address)
  if (!url)
    throw new ReadingFailure(`${JSON.stringify(address.slice(0, 200))} is no address of ${new URL(origin).host}.`)
  return url
}
