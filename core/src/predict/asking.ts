import type { Attribution } from '../attribution/attribute.js'
import { inlineAt } from '../reading/inline-place.js'
import type { Reading, RequestRecord } from '../reading/reading.js'

/** What asked for a request: the page's own HTML, a script's call, a module's import, a stylesheet, a frame's HTML, a redirect. */
export type AskedBy = 'html' | 'script' | 'module' | 'style' | 'frame' | 'redirect'

/** How one request came to be made. Numbers are places in the reading's lists. */
export interface Asking {
  by: AskedBy
  /** Addresses of files without any of which it would not have been made; places in `Askings.addresses`. */
  needs: number[]
  /** The inline code without any of which it would not have been made. */
  needsInline: number[]
  /** The request that redirected to it; -1 where none did. */
  redirectedFrom: number
}

export interface Askings {
  /** One per request, in the reading's order. */
  requests: Asking[]
  /** Every address that was asked for, once; and which requests asked for it, in order. */
  addresses: string[]
  askers: number[][]
  /** Each request's place in `addresses`. */
  addressOf: number[]
}

/** Who asked for what, by the reading's initiators. */
export function askings(reading: Reading, attribution: Attribution): Askings {
  const byAddress = new Map<string, number>()
  const addresses: string[] = []
  const askers: number[][] = []
  const byId = new Map<string, number>()
  const addressOf = reading.requests.map((request, index) => {
    byId.set(request.id, index)
    const address = withoutHash(request.url)
    let at = byAddress.get(address)
    if (at === undefined) {
      at = addresses.length
      byAddress.set(address, at)
      addresses.push(address)
      askers.push([])
    }
    askers[at]!.push(index)
    return at
  })
  const documents = new Set(
    reading.requests.filter(({ type }) => type === 'document').map(({ url }) => withoutHash(url)),
  )
  const inlineOf = inlineAt(reading.inlineCode)
  const typeOf = (address: number) => reading.requests[askers[address]![0]!]!.type

  const asking = (request: RequestRecord): Asking => {
    const from = request.redirectedFrom === undefined ? undefined : byId.get(request.redirectedFrom)
    if (from !== undefined && reading.requests[from]!.type !== 'document')
      return { by: 'redirect', needs: [], needsInline: [], redirectedFrom: from }
    const { initiator } = request
    const frames = initiator.stack?.length
      ? initiator.stack
      : initiator.url === undefined
        ? []
        : [{ url: initiator.url, line: initiator.type === 'script' ? initiator.line : undefined, column: undefined }]
    const needs = new Set<number>()
    const needsInline = new Set<number>()
    for (const { url, line, column } of frames) {
      const address = withoutHash(url)
      const file = byAddress.get(address)
      if (documents.has(address)) {
        const inline = line === undefined ? -1 : inlineOf(line, column)
        if (inline >= 0 && attribution.inlineCode[inline]) needsInline.add(inline)
      } else if (file !== undefined) needs.add(file)
    }
    const by = askedBy(initiator.type, (initiator.stack?.length ?? 0) > 0, [...needs], typeOf)
    return { by, needs: [...needs], needsInline: [...needsInline], redirectedFrom: -1 }
  }
  return { requests: reading.requests.map(asking), addresses, askers, addressOf }
}

function askedBy(
  type: RequestRecord['initiator']['type'],
  hasStack: boolean,
  needs: number[],
  typeOf: (address: number) => string,
): AskedBy {
  if (hasStack) return 'script'
  const asker = needs[0] === undefined ? undefined : typeOf(needs[0])
  if (asker === undefined) return type === 'script' ? 'script' : 'html'
  if (asker === 'style') return 'style'
  if (asker === 'frame') return type === 'script' ? 'script' : 'frame'
  // Without a call that asked, it was one module that imports another.
  return 'module'
}

const withoutHash = (address: string) => {
  const at = address.indexOf('#')
  return at < 0 ? address : address.slice(0, at)
}
