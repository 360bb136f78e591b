import { QueryTypes, type Sequelize } from 'sequelize'
import { ruleFileName } from '@unvelt/core'
import type { AddOnFileView } from '@unvelt/contract'
import type { SweepRow } from '../sweep/sweep.model.js'

/** The files of one payer over a sweep: sums over the pages that load them, heaviest first. */
export async function filesOfPayer(
  sequelize: Sequelize,
  { id: sweepId, sources }: Pick<SweepRow, 'id' | 'sources'>,
  payer: string,
): Promise<AddOnFileView[]> {
  const files = await sequelize.query<Omit<AddOnFileView, 'name'>>(
    `select url, min(type) "type", count(distinct page_id)::int pages, sum(requests)::int requests,
            sum(transfer_bytes)::float8 "transferBytes", sum(decoded_bytes)::float8 "decodedBytes",
            sum(idle_bytes)::float8 "idleBytes", sum(main_thread_ms) "mainThreadMs"
     from file_toll where sweep_id = :sweepId and payer = :payer group by url
     order by sum(decoded_bytes) desc, url limit 500`,
    { replacements: { sweepId, payer }, type: QueryTypes.SELECT },
  )
  return files.map((file) => ({ ...file, name: nameInRules(file.url, sources.ownHosts) }))
}

/** What rules call the files of a payer by that came to a page of a sweep. */
export async function fileNamesOf(
  sequelize: Sequelize,
  { id: sweepId, sources }: Pick<SweepRow, 'id' | 'sources'>,
  payers: string[],
): Promise<Map<string, string[]>> {
  const rows = await sequelize.query<{ payer: string; urls: string[] }>(
    `select payer, array_agg(distinct url) urls from file_toll where sweep_id = $1 and payer = any($2::text[]) group by payer`,
    { bind: [sweepId, payers], type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ payer, urls }) => [payer, urls.map((url) => nameInRules(url, sources.ownHosts))]))
}

/** What rules call a file by. */
export function nameInRules(address: string, ownHosts: readonly string[]): string {
  if (!URL.canParse(address)) return address
  const url = new URL(address)
  return ruleFileName(url, ownHosts.includes(url.host))
}

export interface FileCell {
  pageId: number
  url: string
  type: string
  requests: number
  transferBytes: number
  decodedBytes: number
  idleBytes: number
  mainThreadMs: number
}

/** What each file of a payer costs on each page. */
export function fileCells(sequelize: Sequelize, sweepId: number, payer: string): Promise<FileCell[]> {
  return sequelize.query<FileCell>(
    `select page_id "pageId", url, type, requests, transfer_bytes::float8 "transferBytes",
            decoded_bytes::float8 "decodedBytes", idle_bytes::float8 "idleBytes", main_thread_ms "mainThreadMs"
     from file_toll where sweep_id = :sweepId and payer = :payer limit 200000`,
    { replacements: { sweepId, payer }, type: QueryTypes.SELECT },
  )
}
