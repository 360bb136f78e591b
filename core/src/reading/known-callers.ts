import type { Initiator, Reading, RequestRecord } from './reading.js'

/**
 * Readings of one page, each with what another repeat has learnt of who asks for its pictures, films and the like: remembering
 * that slows a page a little, so only one repeat is asked to, and what a page asks for doesn't change from one load to the next.
 */
export function withKnownCallers(readings: readonly Reading[]): Reading[] {
  const known = new Map<string, Initiator>()
  for (const { requests } of readings)
    for (const request of requests)
      if (isSilent(request.type) && hasStack(request) && !known.has(request.url))
        known.set(request.url, request.initiator)
  if (known.size === 0) return [...readings]
  return readings.map((reading) => {
    const learns = (request: RequestRecord) =>
      isSilent(request.type) && request.initiator.type === 'parser' && !hasStack(request) && known.has(request.url)
    if (!reading.requests.some(learns)) return reading
    return {
      ...reading,
      requests: reading.requests.map((request) =>
        learns(request) ? { ...request, initiator: known.get(request.url)! } : request,
      ),
    }
  })
}

/** Requests that the browser makes a moment after the script that wanted them. */
const isSilent = (type: RequestRecord['type']) => type === 'picture' || type === 'media'
const hasStack = ({ initiator }: RequestRecord) => (initiator.stack?.length ?? 0) > 0
