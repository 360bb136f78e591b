import { AsyncLocalStorage } from 'node:async_hooks'

/** A certificate that is taken for one site though no browser would take it. */
export interface PinnedCertificate {
  /** SHA-256 over the certificate as it is sent, hexadecimal pairs with colons between. */
  fingerprint: string
  /** SHA-256 over its public key (SubjectPublicKeyInfo, RFC 7469), base64: by this a browser is told to take it. */
  spki: string
  subject: string
  issuer: string
  names: string[]
  /** ISO 8601. */
  validFrom: string
  validTo: string
}

/** How the hosts of one site are reached, beside the way that everybody's are. */
export interface SiteWay {
  certificate: PinnedCertificate | null
  /** IP addresses by host name, without port. */
  hosts: Readonly<Record<string, string>>
}

/** The way of the site that a host belongs to, with or without its port; undefined where it is reached as any host is. */
export type WayLookup = (host: string) => Promise<SiteWay | undefined>

let lookup: WayLookup = () => Promise.resolve(undefined)
/** The way to a site that is only about to be registered, or changed, is known to whoever does that alone. */
const trying = new AsyncLocalStorage<{ hosts: ReadonlySet<string>; way: SiteWay }>()

/** From here on whoever reaches a site finds the way by this. */
export function findWaysBy(found: WayLookup): void {
  lookup = found
}

/** Has all that `run` asks of these hosts go a way that is kept nowhere yet. */
export const tryingWay = <T>(hosts: Iterable<string>, way: SiteWay, run: () => Promise<T>): Promise<T> =>
  trying.run({ hosts: new Set([...hosts, ...Object.keys(way.hosts)]), way }, run)

export async function wayTo(host: string): Promise<SiteWay | undefined> {
  const now = trying.getStore()
  return now?.hosts.has(host) ? now.way : lookup(host)
}
