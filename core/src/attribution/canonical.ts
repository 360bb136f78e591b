/**
 * A path as servers read it: escapes of characters that need none undone, the others in large letters (RFC 3986, section
 * 6.2.2), and slashes that stand together taken for one.
 */
export function canonicalPath(path: string): string {
  const decoded = path.includes('%')
    ? path.replace(/%[0-9a-f]{2}/gi, (escape) => {
        const character = String.fromCharCode(parseInt(escape.slice(1), 16))
        return /[A-Za-z0-9._~-]/.test(character) ? character : escape.toUpperCase()
      })
    : path
  return decoded.includes('//') ? decoded.replace(/\/{2,}/g, '/') : decoded
}

/** A host as browsers write it, without the port that goes without saying and without a dot at its end. */
export const canonicalHost = (host: string): string =>
  host
    .toLowerCase()
    .replace(/:(?:80|443)$/, '')
    .replace(/\.(?=:\d+$|$)/, '')

/** An address without its fragment, in its canonical form. */
export const canonicalAddress = (url: URL): string =>
  url.protocol === 'http:' || url.protocol === 'https:'
    ? `${url.protocol}//${canonicalHost(url.host)}${canonicalPath(url.pathname)}${url.search}`
    : url.href.slice(0, url.href.length - url.hash.length)

/** A path or an address of the site's or the maintainer's own writing, escaped as browsers do and canonical; with its query. */
export function canonicalEntry(entry: string): string {
  if (!entry.startsWith('/')) return URL.canParse(entry) ? canonicalAddress(new URL(entry)) : entry
  const address = `http://any.invalid${entry}`
  if (!URL.canParse(address)) return entry
  const url = new URL(address)
  return canonicalPath(url.pathname) + url.search
}
