import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'

/** What is known of a page by a sweep, row by row. What is known of all pages together is worked out anew. */
const OF_A_PAGE = ['reading', 'picture', 'toll', 'page_file', 'use_fact', 'prediction_groups', 'late_paint']

/**
 * Has a sweep know of some pages what another one knew, down to when they were read.
 * @param to A sweep of which these pages are part and are not read yet.
 */
export async function takeOver(
  sequelize: Sequelize,
  { from, to, pageIds }: { from: number; to: number; pageIds: readonly number[] },
  transaction: Transaction,
): Promise<void> {
  if (pageIds.length === 0) return
  for (const table of OF_A_PAGE) {
    const columns = await columnsOf(sequelize, table, transaction)
    const list = columns.map((column) => `"${column}"`).join(', ')
    await sequelize.query(
      `insert into "${table}" (sweep_id, ${list}) select $1, ${list} from "${table}"
       where sweep_id = $2 and page_id = any($3)`,
      { bind: [to, from, pageIds], transaction },
    )
  }
  await sequelize.query(`update sweep_page set state = 'done' where sweep_id = $1 and page_id = any($2)`, {
    bind: [to, pageIds],
    transaction,
  })
}

/** Pages that a sweep has read and that are still there, but for some. */
export async function readBefore(sequelize: Sequelize, sweepId: number, but: readonly number[]): Promise<number[]> {
  const rows = await sequelize.query<{ id: number }>(
    `select page.id from sweep_page join page on page.id = page_id
     where sweep_id = $1 and state = 'done' and not gone and page.id <> all($2) order by position`,
    { bind: [sweepId, but], type: QueryTypes.SELECT },
  )
  return rows.map(({ id }) => id)
}

/** All that are written, but for the sweep. */
async function columnsOf(sequelize: Sequelize, table: string, transaction: Transaction): Promise<string[]> {
  const rows = await sequelize.query<{ column: string }>(
    `select column_name "column" from information_schema.columns
     where table_schema = current_schema() and table_name = $1 and column_name <> 'sweep_id'
       and is_identity = 'NO' and is_generated = 'NEVER'
     order by ordinal_position`,
    { bind: [table], type: QueryTypes.SELECT, transaction },
  )
  return rows.map(({ column }) => column)
}
