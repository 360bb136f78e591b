import { lookup as systemLookup } from 'node:dns'
import { isIP, type LookupFunction } from 'node:net'
import ipaddr from 'ipaddr.js'

/**
 * What a site's pages and the server's own questions to it may reach: `public` leaves loopback, private, link-local and
 * all other reserved ranges closed; `anywhere` is for a site that its maintainer marked as local.
 */
export type Reach = 'public' | 'anywhere'

export const reachOf = ({ local }: { local: boolean }): Reach => (local ? 'anywhere' : 'public')

/** An address that is closed to the site. */
export class OutOfReach extends Error {
  readonly code = 'OUT_OF_REACH'
  constructor(
    readonly host: string,
    readonly address: string,
  ) {
    super(`${host} is an address of this machine or of a private network (${address})`)
  }
}

/** Whether an IP address lies in none of the ranges set aside for machines, private networks and the like. */
export function isPublic(address: string): boolean {
  if (!ipaddr.isValid(address)) return false
  // An IPv4 address in IPv6 clothes is what it is underneath.
  return ipaddr.process(address).range() === 'unicast'
}

/** @throws OutOfReach for a literal address that is closed; names are looked at once they are resolved. */
export function checkLiteral(host: string, reach: Reach): void {
  const bare = host.replace(/^\[|\]$/g, '')
  if (reach === 'public' && isIP(bare) && !isPublic(bare)) throw new OutOfReach(host, bare)
}

/**
 * Resolves names and answers nothing that is out of reach, so that whoever connects can't be led there by a name. All
 * addresses of a name must be open. `*.localhost` is loopback (RFC 6761), whatever the resolver of this machine says.
 */
export const lookupWithin =
  (reach: Reach): LookupFunction =>
  (host, options, answer) => {
    const found = (addresses: { address: string; family: number }[]) => {
      const closed = reach === 'public' ? addresses.find(({ address }) => !isPublic(address)) : undefined
      if (closed) return answer(new OutOfReach(host, closed.address), '', 0)
      if (options.all) answer(null, addresses)
      else answer(null, addresses[0]!.address, addresses[0]!.family)
    }
    if (host === 'localhost' || host.endsWith('.localhost')) return found([{ address: '127.0.0.1', family: 4 }])
    systemLookup(host, { ...options, all: true }, (error, addresses) => {
      if (error) answer(error, '', 0)
      else found(addresses)
    })
  }
