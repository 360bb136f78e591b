import type { AccessView, AccessWish } from '@unvelt/contract'
import { ProblemError } from '../problem/problem.error.js'
import type { Reach } from '../reach/reach.js'
import { isLocked, lockedWords } from '../site-http/connector-client.js'
import { accessHeaders, knockWith, type SiteAccess } from '../site-http/site-access.js'
import { siteFetch } from '../site-http/site-fetch.js'

/**
 * What is wished for, with what was kept of it: nobody has to enter a secret again to change something else.
 * @throws ProblemError where a secret is new and missing.
 */
export function accessOfWish({ user, password, headers = [] }: AccessWish, kept: SiteAccess | null): SiteAccess | null {
  const name = user === '' ? undefined : user
  const known = name !== undefined && name === kept?.user ? kept.password : undefined
  const whole: SiteAccess = {
    ...(name !== undefined && { user: name, password: password ?? known ?? '' }),
    headers: headers.map(({ name, value }, n) => {
      const before = kept?.headers.find((one) => one.name.toLowerCase() === name.toLowerCase())?.value
      const given = value ?? before
      if (given === undefined) {
        const message = `Enter the value of ${name}.`
        throw new ProblemError(422, message, [{ field: `access/headers/${n}/value`, message }])
      }
      return { name, value: given }
    }),
  }
  return whole.user === undefined && whole.headers.length === 0 ? null : whole
}

export const accessView = (access: SiteAccess | null): AccessView | null =>
  access && { user: access.user ?? null, headers: access.headers.map(({ name }) => name) }

/** @throws ProblemError where the site does not let anybody in by this. */
export async function tryAccess(address: string, access: SiteAccess | null, reach: Reach): Promise<void> {
  const { host } = new URL(address)
  const response = await knockWith(host, access ? accessHeaders(access) : {}, () =>
    siteFetch(`${address}/`, { reach, headers: { accept: 'text/html' } }),
  ).catch(() => null)
  await response?.body?.cancel().catch(() => {})
  // A site that is away is no reason to keep what was entered from being kept.
  if (!response || !isLocked(response.status)) return
  const message = lockedWords(host, response.status)
  throw new ProblemError(422, message, [{ field: 'access', message }])
}
