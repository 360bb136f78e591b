/**
 * A `Set-Cookie` of the site's as one of the gate's host, and of no other (RFC 6265bis, section 5.6).
 * @param isSafe Whether browsers keep cookies there that are to go over TLS only; else they are made plain ones.
 */
export function cookieThrough(value: string, isSafe: boolean): string {
  const [pair, ...attributes] = value.split(';')
  const names = isSafe ? ['domain'] : ['domain', 'secure', 'partitioned']
  const isNone = (attribute: string) => !isSafe && /^\s*samesite\s*=\s*none\s*$/i.test(attribute)
  const kept = attributes.filter(
    (attribute) => !names.includes(attribute.split('=')[0]!.trim().toLowerCase()) && !isNone(attribute),
  )
  return [pair, ...kept].join(';')
}
