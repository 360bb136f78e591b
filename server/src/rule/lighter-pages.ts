import { QueryTypes, type Sequelize } from 'sequelize'
import { fileNames, type LighterBy, type ResolvedEffect } from '@unvelt/core'
import { lighterBy } from '../made-copy/lighter-by.js'
import type { SweepRow } from '../sweep/sweep.model.js'

/**
 * What pages are spared by copies that were made and come in the place of files, from what is kept of each file. Null where that does
 * not tell it: a page was read by an earlier version, or something beside its HTML asks for the file.
 */
export async function lighterPages(
  sequelize: Sequelize,
  { id, siteId, sources }: Pick<SweepRow, 'id' | 'siteId' | 'sources'>,
  effects: readonly ResolvedEffect[],
  pageIds: readonly number[],
): Promise<Map<number, LighterBy> | null> {
  const less = await lighterBy(siteId, effects)
  const spared = new Map<number, LighterBy>()
  const own = new Set(sources.ownHosts)
  for (const { addon, file, copy } of effects) {
    const by = less[copy!.content!]
    if (!by) continue
    const rows = await sequelize.query<FileOfPage>(
      `select page_id "pageId", url, requests, transfer_bytes transfer, decoded_bytes decoded, idle_bytes idle, in_html "inHtml"
       from page_file join file_address on file_address.id = file_id join payer_key on payer_key.id = payer_id
       where sweep_id = $1 and page_id = any($2) and slug = $3 and requests is not null`,
      { bind: [id, [...pageIds], addon], type: QueryTypes.SELECT },
    )
    for (const { pageId, url, requests, transfer, decoded, idle, inHtml } of rows) {
      const at = URL.canParse(url) ? new URL(url) : null
      if (!at || !fileNames(at, own.has(at.host)).includes(file!)) continue
      if (inHtml !== true || requests > 1) return null
      const sum = spared.get(pageId) ?? { transferBytes: 0, decodedBytes: 0, idleBytes: 0 }
      sum.transferBytes += Math.min(transfer, by.transferBytes)
      sum.decodedBytes += Math.min(decoded, by.decodedBytes)
      sum.idleBytes += Math.min(idle, by.idleBytes)
      spared.set(pageId, sum)
    }
  }
  return spared
}

interface FileOfPage {
  pageId: number
  url: string
  requests: number
  transfer: number
  decoded: number
  idle: number
  inHtml: boolean | null
}
