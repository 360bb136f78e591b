import type { ReadingOrder } from './reading-order.js'

/** Where the site listens. */
export function portsOf({ url, ownHosts = [] }: Pick<ReadingOrder, 'url' | 'ownHosts'>): number[] {
  const { protocol } = new URL(url)
  const addresses = [url, ...ownHosts.map((host) => `${protocol}//${host}`)].filter((address) => URL.canParse(address))
  const ports = addresses
    .map((address) => new URL(address))
    .map(({ port, protocol: p }) => Number(port) || (p === 'https:' ? 443 : 80))
  // Sites lead from http to https.
  const both = ports.some((port) => port === 80 || port === 443) ? [80, 443] : []
  return [...new Set([...ports, ...both])]
}
