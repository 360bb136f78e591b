import { QueryTypes, type Sequelize } from 'sequelize'
import {
  attributeWithSteps,
  CONTENT,
  unite,
  withSteps,
  type AttributionSources,
  type Range,
  type Reading,
} from '@unvelt/core'
import type { UsedFile } from '../toll/page-file-store.js'

/** What inline code is known by among files: the same code in several pages is one. */
export const inlineName = (hash: string) => `inline code ${hash}`

/** What a page used of each file, united over its repeats: during the load, and by the end of the steps. */
export function usedFiles(readings: readonly Reading[], sources: AttributionSources): UsedFile[] {
  const files = new Map<string, UsedFile>()
  for (const reading of readings) {
    const attribution = attributeWithSteps(reading, sources)
    const byId = new Map(withSteps(reading).requests.map((request) => [request.id, request]))
    const take = (requestId: string, part: 'used' | 'later', ranges: Range[]) => {
      const request = byId.get(requestId)
      if (!request || request.decodedBytes === 0) return
      const { url, decodedBytes: bytes } = request
      const key = `${url} ${bytes}`
      const file = files.get(key) ?? {
        url,
        bytes,
        payer: attribution.requests.get(requestId)!.payer,
        used: [],
        later: [],
      }
      files.set(key, { ...file, [part]: unite(file[part], ranges) })
    }
    reading.inlineCode.forEach(({ hash, bytes, ...code }, index) => {
      if (bytes === 0 || (!code.used && !code.laterUsed)) return
      const url = inlineName(hash)
      const payer = attribution.inlineCode[index]?.payer ?? CONTENT
      const known = files.get(`${url} ${bytes}`) ?? { url, bytes, payer, used: [], later: [] }
      files.set(`${url} ${bytes}`, {
        ...known,
        used: unite(known.used, code.used ?? []),
        later: unite(known.later, code.laterUsed ?? []),
      })
    })
    for (const { requestId, used } of reading.fileUse) take(requestId, 'used', used)
    for (const { requestId, used } of reading.laterUse) take(requestId, 'later', used)
  }
  return [...files.values()]
}

export interface FileOverSite {
  url: string
  payer: string
  bytes: number
  pages: number
  /** Bytes that no page used, in its load or in a step. */
  idleEverywhere: number
  /** Bytes that no load used, and a step did. */
  neededLater: number
}

/**
 * The scripts and styles of a whole sweep, or those that one of its pages loads, with what of each is idle on every page. The ranges are united in the database.
 */
export function filesOverSite(sequelize: Sequelize, sweepId: number, pageId?: number): Promise<FileOverSite[]> {
  return sequelize.query<FileOverSite>(
    `with united as (
       select url, payer, bytes, count(distinct page_id)::int pages,
              range_agg(used) used, range_agg(used) + range_agg(later) whole
       from file_use where sweep_id = :sweepId
       ${pageId === undefined ? '' : 'and url in (select url from file_use where sweep_id = :sweepId and page_id = :pageId)'}
       group by url, payer, bytes)
     select url, payer, bytes::int, pages,
            greatest(0, bytes - whole_size)::int "idleEverywhere",
            (whole_size - used_size)::int "neededLater"
     from (select *, (select coalesce(sum(upper(r) - lower(r)), 0) from unnest(used) r) used_size,
                     (select coalesce(sum(upper(r) - lower(r)), 0) from unnest(whole) r) whole_size from united) sized
     order by "idleEverywhere" desc`,
    { replacements: { sweepId, pageId: pageId ?? null }, type: QueryTypes.SELECT },
  )
}
