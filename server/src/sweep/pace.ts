import { QueryTypes, type Sequelize } from 'sequelize'

/** What is left is expected to go on as the last readings went. */
const LAST_READINGS = 30
const MOST_READINGS = 10_000

/** Seconds until so many readings more are taken; null as long as nothing tells. */
export async function secondsLeft(sequelize: Sequelize, sweepId: number, readings: number): Promise<number | null> {
  const pace = await secondsEach(sequelize, sweepId, LAST_READINGS)
  return pace === null ? null : Math.round(pace * readings)
}

/** Seconds that a reading took in the newest survey through a lens that read anything; null where there was none. */
export async function lastPace(sequelize: Sequelize, lensId: number): Promise<number | null> {
  // Of a site that was down, failures come faster than readings ever could.
  const [last] = await sequelize.query<{ id: number }>(
    `select id from sweep where lens_id = :lensId and purpose = 'survey' and status = 'done'
     and exists (select 1 from toll where sweep_id = sweep.id) order by started_at desc limit 1`,
    { replacements: { lensId }, type: QueryTypes.SELECT },
  )
  return last ? secondsEach(sequelize, last.id, MOST_READINGS) : null
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
             -- What was taken over from another sweep was read at that one's pace.
             and read_at >= (select started_at from sweep where id = :sweepId)
             union all select started_at from sweep where id = :sweepId
             order by 1 desc limit :ends) newest) gaps
     where gap < 120`,
    { replacements: { sweepId, ends: readings + 1 }, type: QueryTypes.SELECT },
  )
  return pace?.seconds ?? null
}

/** Seconds that a reading took in a sweep that is over; null where it has too few to tell. */
export const paceOf = (sequelize: Sequelize, sweepId: number): Promise<number | null> =>
  secondsEach(sequelize, sweepId, MOST_READINGS)
