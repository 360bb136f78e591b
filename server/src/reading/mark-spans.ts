import { QueryTypes, type Sequelize } from 'sequelize'

export interface PagePlace {
  sweepId: number
  pageId: number
}

/**
 * Notes of readings that spans of theirs have come, where the page itself told nothing of the server: what a header told
 * stands, and what spans told before may be more by now.
 * @returns the pages that have some
 */
export async function markSpans(sequelize: Sequelize, traceIds: readonly string[]): Promise<PagePlace[]> {
  const rows = await sequelize.query<PagePlace>(
    `update reading set spans_wait = true
     where trace_id = any($1::text[]) and failure is null and (server_ms is null or span_timing is not null)
       and exists (select 1 from trace_part where trace_part.trace_id = reading.trace_id)
     returning sweep_id "sweepId", page_id "pageId"`,
    { bind: [[...traceIds]], type: QueryTypes.SELECT },
  )
  return [...new Map(rows.map((page) => [`${page.sweepId} ${page.pageId}`, page])).values()]
}

/** Pages of which spans have come that nobody has looked at; those that are being read see to it themselves. */
export const pagesWithSpans = (sequelize: Sequelize): Promise<PagePlace[]> =>
  sequelize.query<PagePlace>(
    `select distinct sweep_id "sweepId", page_id "pageId" from reading join sweep_page using (sweep_id, page_id)
     where spans_wait and state in ('done', 'failed')`,
    { type: QueryTypes.SELECT },
  )
