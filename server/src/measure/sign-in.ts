import type { LensSettings } from '../lens/lens-settings.js'
import type { Reach } from '../reach/reach.js'
import { open } from '../site/secret-box.js'
import { siteFetch, whyUnreachable } from '../site/site-fetch.js'
import { ReadingFailure } from './failure.js'

/**
 * The cookies that sign the lens's visitor in, as `Cookie` has them; none for visitors who are signed out.
 * @throws ReadingFailure when the site takes the form and signs nobody in.
 */
export async function signIn(
  origin: string,
  { visitor }: LensSettings,
  secret: Buffer,
  reach: Reach,
): Promise<string | null> {
  if (visitor.kind === 'signed-out') return null
  const opened = open(visitor.sealed, secret)
  if (visitor.kind === 'cookie') return opened
  const response = await siteFetch(origin + visitor.path, {
    method: 'POST',
    reach,
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    body: new URLSearchParams(JSON.parse(opened) as Record<string, string>).toString(),
  }).catch((error: unknown) => {
    throw new ReadingFailure(`Signing in failed. ${whyUnreachable(error, new URL(origin).host)}`)
  })
  await response.body?.cancel()
  const cookies = response.headers
    .getSetCookie()
    .map((cookie) => cookie.split(';', 1)[0]!)
    .filter((cookie) => !cookie.endsWith('='))
  if (cookies.length === 0)
    throw new ReadingFailure(`Signing in failed: ${visitor.path} answered ${response.status} and set no cookie.`)
  return cookies.join('; ')
}

/** One `Cookie` header as the browser wants its cookies. */
export const cookiesFor = (header: string, url: string) =>
  header.split(/;\s*/).flatMap((part) => {
    const at = part.indexOf('=')
    return at <= 0 ? [] : [{ name: part.slice(0, at), value: part.slice(at + 1), url }]
  })
