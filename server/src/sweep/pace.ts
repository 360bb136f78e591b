import { QueryTypes, type Sequelize } from 'sequelize'
import { SweepRow } from './sweep.model.js'

/** What is left is expected to go on as the last readings went. */
const LAST_READINGS = 30
const MOST_READINGS = 10_000

/** Seconds until so many readings more are taken; null as long as nothing tells. */
export async function secondsLeft(sequelize: Sequelize, sweepId: number, readings: number): Promise<number | null> {
  const pace = await secondsEach(sequelize, sweepId, LAST_READINGS)
  return pace === null ? null : Math.round(pace * readings)
}

/** Seconds that a reading took in the newest survey through a lens; null where there was none. */
export async function lastPace(sequelize: Sequelize, lensId: number): Promise<number | null> {
  const where = { lensId, purpose: 'survey', status: 'done' } as const
  const last = await SweepRow.findOne({ where, order: [['startedAt', 'desc']], attributes: ['id'] })
  return last && secondsEach(sequelize, last.id, MOST_READINGS)
}

/**
 * Seconds from one to the next of the last so many readings of a sweep; a gap of minutes is a pause and says nothing of its
 * pace. Readings of several pages come at once, so the wait for the first of them counts, too.
 */
async function secondsEach(sequelize: Sequelize, sweepId: number, readings: number): Promise<number | null> {
  const [pace] = await sequelize.query<{ seconds: number | null }>(
    `select avg(gap)::float seconds from (
       select extract(epoch from read_at - lag(read_at) over (order by read_at)) gap
       from (select read_at from reading where sweep_id = :sweepId
             union all select started_at from sweep where id = :sweepId
             order by 1 desc limit :ends) newest) gaps
     where gap < 120`,
    { replacements: { sweepId, ends: readings + 1 }, type: QueryTypes.SELECT },
  )
  return pace?.seconds ?? null
}
