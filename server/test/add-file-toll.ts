import type { Sequelize } from 'sequelize'

interface Told {
  sweepId: number
  pageId: number
  payer: string
  url: string
  type: string
  transferBytes?: number
}

/** One more file of a page, as if a reading had seen it. */
export async function addFileToll(
  db: Sequelize,
  { sweepId, pageId, payer, url, type, transferBytes = 1 }: Told,
): Promise<void> {
  const site = '(select site_id from sweep where id = $1)'
  await db.query(`insert into payer_key (site_id, slug) values (${site}, $2) on conflict do nothing`, {
    bind: [sweepId, payer],
  })
  await db.query(`insert into file_address (site_id, url, type) values (${site}, $2, $3) on conflict do nothing`, {
    bind: [sweepId, url, type],
  })
  await db.query(
    `insert into page_file (sweep_id, page_id, payer_id, file_id, requests, transfer_bytes, decoded_bytes, idle_bytes, main_thread_ms)
     select $1, $2, payer_key.id, file_address.id, 1, $6, $6, 0, 0 from payer_key, file_address
     where slug = $3 and url = $4 and type = $5 and payer_key.site_id = ${site} and file_address.site_id = ${site}`,
    { bind: [sweepId, pageId, payer, url, type, transferBytes] },
  )
}
