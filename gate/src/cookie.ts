/**
 * A `Set-Cookie` of the site's as one of the gate's host, and of no other.
 * @param inFrames Lets it come along from within somebody else's frame, where browsers take a host below `localhost` for safe
 *   (RFC 6265bis, section 5.6; CHIPS for those that keep other frames' cookies apart).
 */
export function cookieThrough(value: string, inFrames: boolean): string {
  const [pair, ...attributes] = value.split(';')
  const kept = attributes.filter((attribute) => {
    const name = attribute.split('=')[0]!.trim().toLowerCase()
    return name !== 'domain' && (!inFrames || !['samesite', 'secure', 'partitioned'].includes(name))
  })
  const added = inFrames ? [' SameSite=None', ' Secure', ' Partitioned'] : []
  return [pair, ...kept, ...added].join(';')
}
