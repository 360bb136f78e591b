import { QueryTypes, type Sequelize } from 'sequelize'

/** A worker that wasn't heard of for so long is taken for gone. */
const SILENT_S = 20

/** Why nobody reads a sweep that is under way; null where a worker is there. */
export async function whyNobodyReads(sequelize: Sequelize): Promise<string | null> {
  const [row] = await sequelize.query<{ alive: boolean; last: Date | null }>(
    `select coalesce(bool_or(seen_at > now() - interval '${SILENT_S} seconds'), false) alive, max(seen_at) last from worker`,
    { type: QueryTypes.SELECT },
  )
  if (row?.alive) return null
  return row?.last
    ? 'No worker is running: the last one has not been heard of for a while. Start one with npm run worker.'
    : 'No worker is running. Start one with npm run worker.'
}
