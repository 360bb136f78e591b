import { accessFor } from './site-access.js'

/** The header for a connector's key where `Authorization` is for whatever stands in front of the site. */
export const KEY_HEADER = 'unvelt-key'

/** The header that a connector knows its own by. */
export async function keyHeaders(origin: string, key: string): Promise<Record<string, string>> {
  const { authorization } = await accessFor(new URL(origin).host)
  return authorization === undefined ? { authorization: `Bearer ${key}` } : { [KEY_HEADER]: key }
}
