/** Nothing that is asked of Unvelt is nested deeper, and what looks through a body goes down with it. */
export const MOST_DEPTH = 64

/** How deep JSON is nested, found without parsing it. */
export function jsonDepth(bytes: Uint8Array): number {
  let depth = 0
  let most = 0
  let quoted = false
  for (let at = 0; at < bytes.length; at++) {
    const byte = bytes[at]
    if (quoted) {
      if (byte === 0x5c) at++
      else if (byte === 0x22) quoted = false
    } else if (byte === 0x22) quoted = true
    else if (byte === 0x7b || byte === 0x5b) most = Math.max(most, ++depth)
    else if (byte === 0x7d || byte === 0x5d) depth--
  }
  return most
}

/** For the parser of bodies. @throws an error that is answered with 400. */
export function refuseDeepBody(_request: unknown, _response: unknown, bytes: Uint8Array): void {
  if (jsonDepth(bytes) > MOST_DEPTH)
    throw Object.assign(new Error(`The body is nested deeper than ${MOST_DEPTH} levels.`), { status: 400 })
}
