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
    /** Where the address is open, and only what listens there is not the site's. */
    readonly port: number | null = null,
  ) {
    super(
      port === null
        ? `${host} is an address of this machine or of a private network (${address})`
        : `${host}:${port} is a port of this machine that is none of the site’s`,
    )
  }
}

/** Whether an IP address lies in none of the ranges set aside for machines, private networks and the like. */
export function isPublic(address: string): boolean {
  if (!ipaddr.isValid(address)) return false
  // An IPv4 address in IPv6 clothes is what it is underneath.
  const bare = ipaddr.process(address)
  return bare.range() === 'unicast' && !(bare instanceof ipaddr.IPv6 && isClothed(bare))
}

/**
 * IPv6 addresses that stand for another one: those of an IPv4 address (`::7f00:1`, RFC 4291; `::ffff:0:7f00:1`, RFC 2765), and
 * the ways through to one (6to4, Teredo, NAT64, ISATAP). Nobody in the open network has them for his own.
 */
function isClothed(address: ipaddr.IPv6): boolean {
  const [first, second] = address.parts
  const leading = address.parts.slice(0, 6)
  const isCompatible = leading.every((part) => part === 0)
  const isTranslated = leading.slice(0, 4).every((part) => part === 0) && leading[4] === 0xffff && leading[5] === 0
  const isIsatap = (address.parts[4]! & 0xfdff) === 0 && address.parts[5] === 0x5efe
  const isTunnel = first === 0x2002 || (first === 0x2001 && second === 0) || first === 0x64
  return isCompatible || isTranslated || isIsatap || isTunnel
}

/** @throws OutOfReach for a literal address that is closed; names are looked at once they are resolved. */
export function checkLiteral(host: string, reach: Reach): void {
  const bare = host.replace(/^\[|\]$/g, '')
  if (reach === 'public' && isIP(bare) && !isPublic(bare)) throw new OutOfReach(host, bare)
}

/**
 * Resolves names and answers nothing that is out of reach, so that whoever connects can't be led there by a name. All
 * addresses of a name must be open, and so must one that a maintainer has mapped it to. `*.localhost` is loopback (RFC 6761), whatever the resolver of this machine says.
 */
export const lookupWithin =
  (reach: Reach, mapped: (host: string) => Promise<string | undefined> = nowhereElse): LookupFunction =>
  (host, options, answer) => {
    const found = (addresses: { address: string; family: number }[]) => {
      const closed = reach === 'public' ? addresses.find(({ address }) => !isPublic(address)) : undefined
      if (closed) return answer(new OutOfReach(host, closed.address), '', 0)
      if (options.all) answer(null, addresses)
      else answer(null, addresses[0]!.address, addresses[0]!.family)
    }
    const lookUp = () => {
      if (host === 'localhost' || host.endsWith('.localhost')) return found([{ address: '127.0.0.1', family: 4 }])
      systemLookup(host, { ...options, all: true }, (error, addresses) => {
        if (error) answer(error, '', 0)
        else found(addresses)
      })
    }
    mapped(host).then(
      (address) => (address === undefined ? lookUp() : found([{ address, family: isIP(address) }])),
      (error: Error) => answer(error, '', 0),
    )
  }

const nowhereElse = () => Promise.resolve(undefined)
