/** Names of this machine for itself: a request that names one of them was not led here by somebody else's name. */
export const LOOPBACK_NAMES = ['localhost', '127.0.0.1', '[::1]']

/** The host of a `Host` header without its port, as URLs have it; null for what is none. */
export function hostnameOf(header: string | undefined): string | null {
  if (header === undefined || !/^[^\s/\\@?#]+$/.test(header) || !URL.canParse(`http://${header}`)) return null
  return new URL(`http://${header}`).hostname
}

/**
 * Whether a request is for a host that Unvelt knows as its own. A name of somebody else's that points to this machine
 * (DNS rebinding) would let his pages read everything, as of one origin.
 */
export function isKnownHost(header: string | undefined, known: readonly string[]): boolean {
  const host = hostnameOf(header)
  return host !== null && known.includes(host)
}
