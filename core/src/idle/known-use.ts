import type { FileUse, InlineCode, Reading, RequestRecord } from '../reading/reading.js'

/**
 * Readings of one page, clean ones with what another repeat has seen of the use of the same files: what a file is used for
 * doesn't change from one load to the next, while looking slows the page. The same file is one with the same address and
 * size; of one that is asked for several times, the first request has the first one's use. Others are left as they are.
 */
export function withKnownUse(readings: readonly Reading[]): Reading[] {
  const watched = readings.find(
    ({ clean, fileUse, inlineCode }) => !clean && (fileUse.length > 0 || inlineCode.some(({ used }) => used)),
  )
  if (!watched) return [...readings]
  const uses = new Map(watched.fileUse.map((use) => [use.requestId, use]))
  const known = new Map<string, (FileUse | undefined)[]>()
  for (const request of watched.requests)
    known.set(keyOf(request), [...(known.get(keyOf(request)) ?? []), uses.get(request.id)])
  const inline = new Map(watched.inlineCode.map((code) => [`${code.hash} ${code.bytes}`, code.used]))
  const withUse = (code: InlineCode): InlineCode => {
    const used = inline.get(`${code.hash} ${code.bytes}`)
    return used ? { ...code, used } : code
  }
  return readings.map((reading) => {
    if (!reading.clean) return reading
    const left = new Map([...known].map(([key, inOrder]) => [key, [...inOrder]]))
    const fileUse = reading.requests.flatMap((request): FileUse[] => {
      const use = left.get(keyOf(request))?.shift()
      return use ? [{ ...use, requestId: request.id }] : []
    })
    return { ...reading, fileUse, inlineCode: reading.inlineCode.map(withUse) }
  })
}

const keyOf = ({ url, decodedBytes }: RequestRecord) => `${url} ${decodedBytes}`

/** Of each reading whether its times count: those of clean ones do, or of all where none is; those of untimed ones never. */
export function areTimed(readings: readonly Reading[]): boolean[] {
  const anyClean = readings.some((reading) => reading.clean)
  return readings.map((reading) => !reading.untimed && (!anyClean || reading.clean === true))
}

/** The readings whose times count. */
export function timedOnes(readings: readonly Reading[]): Reading[] {
  const timed = areTimed(readings)
  return readings.filter((_, index) => timed[index])
}
