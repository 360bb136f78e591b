import type { Attribution } from '../attribution/attribute.js'
import { splitRequest } from '../glue/split-request.js'
import { idleByRequest } from '../idle/idle-bytes.js'
import { medianIndex } from '../noise/median.js'
import { wentOut } from '../reading/totals.js'
import type { Reading } from '../reading/reading.js'

/** What one file costs its payer on one page. Inline code and server time belong to no file. Bytes and ms. */
export interface FileToll {
  payer: string
  url: string
  type: string
  requests: number
  transferBytes: number
  decodedBytes: number
  idleBytes: number
  mainThreadMs: number
}

/**
 * The tolls of single files of a reading: each address once per payer, however often it was asked for. A glued file is
 * split among those whose code is in it; its request stays with whom the whole is charged to.
 *
 * @param clocked The repeat of the same page whose times count, where it is another one.
 */
export function fileTolls(
  reading: Reading,
  attribution: Attribution,
  clocked: { reading: Reading; attribution: Attribution } = { reading, attribution },
): FileToll[] {
  const files = new Map<string, FileToll>()
  const of = (payer: string, url: string, type: string) => {
    const key = `${payer} ${url}`
    const file = files.get(key) ?? {
      payer,
      url,
      type,
      requests: 0,
      transferBytes: 0,
      decodedBytes: 0,
      idleBytes: 0,
      mainThreadMs: 0,
    }
    files.set(key, file)
    return file
  }
  const idle = idleByRequest(reading)
  const useOf = new Map(reading.fileUse.map((use) => [use.requestId, use]))
  for (const request of reading.requests) {
    const { payer } = attribution.requests.get(request.id)!
    const file = of(payer, request.url, request.type)
    file.requests += wentOut(request) ? 1 : 0
    const shares = attribution.shares.get(request.id)
    if (shares && shares.length > 0) {
      for (const part of splitRequest(request, shares, useOf.get(request.id))) {
        const share = of(part.payer, request.url, request.type)
        share.transferBytes += part.transferBytes
        share.decodedBytes += part.decodedBytes
        share.idleBytes += part.idleBytes
      }
      continue
    }
    file.transferBytes += request.transferBytes
    file.decodedBytes += request.decodedBytes
    file.idleBytes += idle.get(request.id) ?? 0
  }
  const typeOf = new Map(clocked.reading.requests.map(({ url, type }) => [url, type]))
  clocked.reading.mainThread.forEach(({ url, ms }, index) => {
    const type = typeOf.get(url)
    if (type && type !== 'document') of(clocked.attribution.mainThread[index]!.payer, url, type).mainThreadMs += ms
  })
  return [...files.values()]
}

/** The reading whose transferred bytes are the (lower) median: the one whose files are listed. Null without readings. */
export function middleByBytes(readings: readonly Reading[]): Reading | null {
  if (readings.length === 0) return null
  const bytes = readings.map(({ requests }) => requests.reduce((sum, { transferBytes }) => sum + transferBytes, 0))
  return readings[medianIndex(bytes)]!
}
