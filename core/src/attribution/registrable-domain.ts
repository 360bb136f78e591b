import { getDomain } from 'tldts'

/**
 * The registrable domain of a host by the public suffix list, private suffixes included. Addresses and single-label
 * hosts stand for themselves; below `localhost` (RFC 6761) the label before it is the domain.
 */
export function registrableDomain(host: string): string {
  const name = host.replace(/:\d+$/, '').toLowerCase()
  const [belowLocalhost] = /[^.]+\.localhost$/.exec(name) ?? []
  return belowLocalhost ?? getDomain(name, { allowPrivateDomains: true }) ?? name
}
