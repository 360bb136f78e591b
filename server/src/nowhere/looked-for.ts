import { QueryTypes, type Sequelize } from 'sequelize'
import type { Range } from '@unvelt/core'

/** A stylesheet or a script as a sweep saw it, with what of it any page or step has used, in that sweep and in those before. */
export interface LookedForFile {
  url: string
  payer: string
  bytes: number
  pageIds: number[]
  /** Pages that load it of which nobody can say what they use of it. */
  unknown: number
  sweeps: number
  /** Bytes, in order and without overlap. */
  used: Range[]
}

const RUN = `
  shown as (select site_id, coalesce(run_id, id) run from sweep where id = :sweepId),
  run as (select sweep.id from sweep, shown where sweep.site_id = shown.site_id and coalesce(sweep.run_id, sweep.id) = run)`

/**
 * The stylesheets or the scripts of a sweep, through all lenses that were read with it, the heaviest first. What other sweeps saw of a file counts
 * as long as it had the same address and size. Ranges are united in the database.
 */
export async function filesLookedFor(
  sequelize: Sequelize,
  sweepId: number,
  type: 'style' | 'script',
): Promise<LookedForFile[]> {
  const rows = await sequelize.query<Omit<LookedForFile, 'used'> & { used: string }>(
    `with ${RUN},
          loaded as (
            select url, max(payer) payer, array_agg(distinct page_id) pages from file_toll
            where sweep_id in (select id from run) and type = :type and url ~ '^https?:' group by url),
          address as (select id, url from file_address where site_id = (select site_id from shown) and url in (select url from loaded)),
          known as (
            select url, code_bytes bytes, count(distinct page_id)::int pages from page_file join address on address.id = file_id
            where sweep_id in (select id from run) and use_id is not null group by url, code_bytes),
          looked as materialized (
            select url, code_bytes bytes, sweep_id, use_id from page_file join address on address.id = file_id
            where use_id is not null and sweep_id in (select sweep.id from sweep, shown where sweep.site_id = shown.site_id)
            group by url, code_bytes, sweep_id, use_id),
          united as (
            -- Most pages use the same of a file, and the same united with itself is worth no time.
            select url, bytes, range_agg(used) + range_agg(later) used
            from (select distinct url, bytes, use_id from looked) one join code_use on code_use.id = use_id group by url, bytes),
          seen as (select url, bytes, count(distinct sweep_id)::int sweeps from looked group by url, bytes)
     select url, united.bytes::int, payer, loaded.pages "pageIds", sweeps, used::text,
            greatest(0, cardinality(loaded.pages) - known.pages) unknown
     from united join known using (url, bytes) join seen using (url, bytes) join loaded using (url) order by united.bytes desc, url`,
    { replacements: { sweepId, type }, type: QueryTypes.SELECT },
  )
  return rows.map((row) => ({ ...row, used: rangesOf(row.used) }))
}

/** Addresses of the scripts of a sweep, the ones that most pages load first. */
export async function scriptsOf(sequelize: Sequelize, sweepId: number): Promise<string[]> {
  const rows = await sequelize.query<{ url: string }>(
    `with ${RUN} select url from file_toll
     where sweep_id in (select id from run) and type = 'script' and url ~ '^https?:'
     group by url order by count(distinct page_id) desc, url`,
    { replacements: { sweepId }, type: QueryTypes.SELECT },
  )
  return rows.map(({ url }) => url)
}

/** Ranges as PostgreSQL writes them: `{[0,7),[9,12)}`. */
export const rangesOf = (text: string): Range[] =>
  [...text.matchAll(/\[(\d+),(\d+)\)/g)].map(([, from, to]): Range => [Number(from), Number(to)])
