import { QueryTypes, type Sequelize } from 'sequelize'
import type { PictureLooks } from '@unvelt/core'
import type { PromiseKind } from '@unvelt/contract'
import { shownSweep } from '../sweep/shown-sweep.js'

const LONGEST_URL = 1_000
/** Less than this is never worth anybody's while. */
const LEAST_SAVING = 500

export interface SaidOfFile {
  url: string
  /** Of its body, as it came. */
  bytes: number
  saving: number
  /** Of a picture: how it looks. */
  looks?: PictureLooks | null
}

/**
 * Keeps what was said that could be spared, with what each file weighed in the sweep that is shown. Who looks again at a file that has
 * not changed says it again; of one that has changed the next sweep is to tell what came first.
 */
export async function keepPromises(
  sequelize: Sequelize,
  siteId: number,
  kind: PromiseKind,
  said: readonly SaidOfFile[],
): Promise<void> {
  const worth = [
    ...new Map(
      said
        .filter(({ url, saving }) => saving >= LEAST_SAVING && url.length <= LONGEST_URL && /^https?:/.test(url))
        .map((one) => [one.url, one]),
    ).values(),
  ]
  if (worth.length === 0) return
  const sweepId = await shownSweep(sequelize, siteId)
  const met = sweepId === null ? new Map<string, number>() : await metBytes(sequelize, sweepId)
  await sequelize.query(
    `insert into weight_promise (site_id, kind, url, sweep_id, body_bytes, bytes, saving, looks)
     select $1, $2, url, $3, body, bytes, saving, looks::jsonb
     from unnest($4::text[], $5::bigint[], $6::bigint[], $7::bigint[], $8::text[]) said (url, body, bytes, saving, looks)
     on conflict (site_id, kind, url) do update set saving = excluded.saving, looks = coalesce(excluded.looks, weight_promise.looks)
     where weight_promise.body_bytes = excluded.body_bytes`,
    {
      bind: [
        ...[siteId, kind, sweepId],
        worth.map(({ url }) => url),
        worth.map(({ bytes }) => bytes),
        worth.map(({ url, bytes }) => Math.round(met.get(url) ?? bytes)),
        worth.map(({ saving }) => Math.round(saving)),
        worth.map(({ looks }) => (looks ? JSON.stringify(looks) : null)),
      ],
    },
  )
}

/** Bytes on the wire each time that a picture, script or style was fetched in a sweep, in the middle of its pages. */
export async function metBytes(sequelize: Sequelize, sweepId: number): Promise<Map<string, number>> {
  const rows = await sequelize.query<{ url: string; bytes: number }>(
    `select url, percentile_cont(0.5) within group (order by bytes / requests) bytes from (
       select url, sum(transfer_bytes)::float8 bytes, sum(requests) requests from file_toll
       where sweep_id = $1 and type in ('picture', 'script', 'style') group by url, page_id) loads
     where requests > 0 and bytes > 0 group by url`,
    { bind: [sweepId], type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ url, bytes }) => [url, bytes]))
}
