import type { Reading } from '../reading/reading.js'
import { covered } from './byte-ranges.js'

/**
 * Idle bytes by request: of each script and stylesheet whose use is known, the decoded bytes that were neither run nor
 * applied. A file of which nothing is known is not in it, since not known is not idle.
 */
export function idleByRequest({ requests, fileUse }: Reading): Map<string, number> {
  const decoded = new Map(requests.map((request) => [request.id, request.decodedBytes]))
  return new Map(
    fileUse.flatMap(({ requestId, used }) => {
      const bytes = decoded.get(requestId)
      return bytes === undefined ? [] : [[requestId, Math.max(0, bytes - covered(used))] as const]
    }),
  )
}

/**
 * Idle bytes of each piece of inline code, in the reading's order: 0 where its use is not known. All of it is within the
 * page's own document, and never more than that.
 */
export function inlineIdle({ requests, inlineCode }: Pick<Reading, 'requests' | 'inlineCode'>): number[] {
  let left = requests.filter(({ type }) => type === 'document').at(-1)?.decodedBytes ?? 0
  return inlineCode.map(({ bytes, used }) => {
    const came = Math.min(bytes, left)
    left -= came
    return used ? Math.max(0, came - covered(used)) : 0
  })
}
