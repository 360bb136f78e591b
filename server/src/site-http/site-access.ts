import { AsyncLocalStorage } from 'node:async_hooks'

/** Headers by which a site lets somebody in that it keeps others out of, by their names in lower case. */
export type AccessHeaders = Readonly<Record<string, string>>
/** Those of the site that a host belongs to; none where it is nobody's, or open to all. */
export type AccessLookup = (host: string) => Promise<AccessHeaders>

export interface SiteAccess {
  user?: string
  password?: string
  headers: { name: string; value: string }[]
}

const NONE: AccessHeaders = {}

/** HTTP Basic (RFC 7617, in UTF-8) and headers of the site's own choosing. */
export function accessHeaders({ user, password = '', headers }: SiteAccess): AccessHeaders {
  const basic = user && `Basic ${Buffer.from(`${user}:${password}`, 'utf8').toString('base64')}`
  return Object.fromEntries([
    ...(basic ? [['authorization', basic] as const] : []),
    ...headers.map(({ name, value }) => [name.toLowerCase(), value] as const),
  ])
}

let lookup: AccessLookup = () => Promise.resolve(NONE)
/** A site that is only about to be registered is known to whoever registers it alone. */
const knocking = new AsyncLocalStorage<{ host: string; headers: AccessHeaders }>()

/** From here on whoever asks a site finds its headers by this. */
export function findAccessBy(found: AccessLookup): void {
  lookup = found
}

/** Has all that `run` asks of a host go with headers that are kept nowhere yet. */
export const knockWith = <T>(host: string, headers: AccessHeaders, run: () => Promise<T>): Promise<T> =>
  knocking.run({ host, headers }, run)

/** What a request to a host goes with. Only ever asked for the host that the request is for, so that no other gets it. */
export async function accessFor(host: string): Promise<AccessHeaders> {
  const now = knocking.getStore()
  return now?.host === host ? now.headers : lookup(host)
}
