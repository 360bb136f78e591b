import type PgBoss from 'pg-boss'
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import { READ_PAGE, within, type ReadPageJob } from '../queue/queue.js'
import { nextPriority } from './fair-order.js'
import { inRounds, isCompared, type SweepRow } from './sweep.model.js'

interface Tools {
  sequelize: Sequelize
  queue: PgBoss
}

/**
 * Queues pages in the site's own order, so that the maintainer sees the ledger fill from the left, and in turn with other sites; all
 * of them once before any of them again. Of a run through several lenses one comes whole before the next.
 */
export async function queuePages(
  { sequelize, queue }: Tools,
  sweep: SweepRow,
  pageIds: number[],
  transaction: Transaction,
): Promise<void> {
  const { id, runId, purpose } = sweep
  const rounds = inRounds(sweep) && pageIds.length > 1 ? [...pageIds, ...pageIds] : pageIds
  const before = runId === id ? 0 : await waitsOfRun(sequelize, { runId: runId!, before: id, transaction })
  const urgent = purpose === 'proof' || isCompared(sweep)
  const top = (await nextPriority(sequelize, { urgent, transaction })) - before
  await queue.insert(
    rounds.map((pageId, index) => ({
      name: READ_PAGE,
      data: { sweepId: id, pageId } satisfies ReadPageJob,
      priority: top - index,
      singletonKey: `${id}/${pageId}`,
    })),
    within(transaction),
  )
}

/** How many jobs of the earlier sweeps of a run are still to come. */
async function waitsOfRun(
  sequelize: Sequelize,
  { runId, before, transaction }: { runId: number; before: number; transaction: Transaction },
): Promise<number> {
  const [row] = await sequelize.query<{ n: number }>(
    `select coalesce(sum(case when repeats > 1 and state <> 'begun' then 2 else 1 end), 0)::int n
     from sweep_page join sweep on sweep.id = sweep_id
     where run_id = :runId and sweep.id < :before and state not in ('done', 'failed')`,
    { replacements: { runId, before }, type: QueryTypes.SELECT, transaction },
  )
  return row!.n
}
