/** A path of a site, as it may be stored and asked for: nothing in it that a URL parser drops, or takes for another host. */
// eslint-disable-next-line no-control-regex
export const OWN_PATH = /^\/(?![/\\])[^\u0000-\u0020\u007f]*$/

// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u001f\u007f]/

/**
 * The address of something on a site, or null where it would lead anywhere else. Every address that something kept for the
 * site (a password, a cookie, a signature) is sent to comes from here: what counts is where the parsed address leads, since
 * parsers drop tabs and line feeds and take backslashes for slashes (WHATWG URL, section 4.4).
 * @param origin Origin of the site.
 * @param address A path, or a whole address.
 */
export function ownAddress(origin: string, address: string): URL | null {
  if (CONTROL.test(address) || !URL.canParse(address, origin)) return null
  const own = new URL(origin)
  const url = new URL(address, own)
  return url.origin === own.origin && url.username === '' && url.password === '' ? url : null
}
