import type { FileUse, Reading, RequestRecord } from '../reading/reading.js'

/**
 * Readings of one page, clean ones with what another repeat has seen of the use of the same files: what a file is used for
 * doesn't change from one load to the next, while looking slows the page. The same file is one with the same address and
 * size; of one that is asked for several times, the first request has the first one's use. Others are left as they are.
 */
export function withKnownUse(readings: readonly Reading[]): Reading[] {
  const watched = readings.find(({ clean, fileUse }) => !clean && fileUse.length > 0)
  if (!watched) return [...readings]
  const requests = new Map(watched.requests.map((request) => [request.id, request]))
  const known = new Map<string, FileUse[]>()
  for (const use of watched.fileUse) {
    const request = requests.get(use.requestId)
    if (request) known.set(keyOf(request), [...(known.get(keyOf(request)) ?? []), use])
  }
  return readings.map((reading) => {
    if (!reading.clean) return reading
    const left = new Map([...known].map(([key, uses]) => [key, [...uses]]))
    const fileUse = reading.requests.flatMap((request): FileUse[] => {
      const use = left.get(keyOf(request))?.shift()
      return use ? [{ ...use, requestId: request.id }] : []
    })
    return { ...reading, fileUse }
  })
}

const keyOf = ({ url, decodedBytes }: RequestRecord) => `${url} ${decodedBytes}`

/** The readings whose times count: clean ones, and all of them where none is. */
export function timedOnes(readings: readonly Reading[]): Reading[] {
  const clean = readings.filter((reading) => reading.clean)
  return clean.length > 0 ? clean : [...readings]
}
