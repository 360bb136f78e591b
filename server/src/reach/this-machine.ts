import { networkInterfaces } from 'node:os'
import ipaddr from 'ipaddr.js'

/** Addresses of the line itself, at which clouds hand out their keys: no site stands there, local or not. */
export const isLinkLocal = (address: string): boolean =>
  ipaddr.isValid(address) && ipaddr.process(address).range() === 'linkLocal'

/** Whether whoever connects to an address ends up on the machine that he connects from. */
export function isThisMachine(address: string): boolean {
  if (!ipaddr.isValid(address)) return false
  const bare = ipaddr.process(address)
  // What is unspecified is taken for loopback by those who connect to it.
  if (['loopback', 'unspecified'].includes(bare.range())) return true
  const text = bare.toNormalizedString()
  return Object.values(networkInterfaces())
    .flatMap((list) => list ?? [])
    .some((own) => ipaddr.process(own.address.replace(/%.*$/, '')).toNormalizedString() === text)
}
