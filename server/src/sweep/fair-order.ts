import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import { READ_PAGE } from '../queue/queue.js'

/** What somebody waits for comes before all that is only to be done some time. */
const URGENT = 1_000_000

/**
 * The priority of the first page of something new, from which the following ones count down. It is where the queue is just
 * now, so that sites take turns page by page from here on, however much one of them has waiting (start-time fair queuing,
 * Goyal, Vin and Cheng 1996, with one page for a unit).
 */
export async function nextPriority(
  sequelize: Sequelize,
  { urgent, transaction = null }: { urgent: boolean; transaction?: Transaction | null },
): Promise<number> {
  const [row] = await sequelize.query<{ top: number }>(
    `select coalesce(max(priority), 0)::int top from pgboss.job
     where name = :name and state < 'active' and priority < :urgent`,
    { replacements: { name: READ_PAGE, urgent: URGENT / 2 }, type: QueryTypes.SELECT, transaction },
  )
  return urgent ? URGENT : row!.top
}

/**
 * Puts pages of a sweep before all that waits, but for what somebody stands and waits for; in the order in which they were to
 * come. @returns of how many pages something waited.
 */
export async function moveToFront(sequelize: Sequelize, sweepId: number, pageIds: readonly number[]): Promise<number> {
  const moved = await sequelize.query<{ key: string }>(
    `with waiting as (
       select id, row_number() over (order by priority, created_on desc) nth from pgboss.job
       where name = :name and state < 'active' and singleton_key in (:keys)
     ), front as (
       select coalesce(max(priority), 0) top from pgboss.job
       where name = :name and state < 'active' and priority < :urgent
     )
     update pgboss.job set priority = least(top + nth, :urgent - 1) from waiting, front
     where job.name = :name and job.id = waiting.id returning singleton_key "key"`,
    {
      replacements: { name: READ_PAGE, keys: pageIds.map((id) => `${sweepId}/${id}`), urgent: URGENT / 2 },
      type: QueryTypes.SELECT,
    },
  )
  return new Set(moved.map(({ key }) => key)).size
}
