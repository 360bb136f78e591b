import { createRequire } from 'node:module'
import { join } from 'node:path'
import { ROOT } from './workspace.mjs'

/** Puts rows that were recorded elsewhere into a table, column by column. */
export const inserter = (db) => async (table, values) => {
  const columns = Object.keys(values)
  const { rows } = await db.query(
    `insert into ${table} (${columns.join(', ')}) select ${columns.join(', ')}
     from json_populate_record(null::${table}, $1) returning *`,
    [JSON.stringify(values)],
  )
  return rows[0]
}

/** Works in a database and leaves it again. */
export async function within(url, run) {
  const pg = createRequire(join(ROOT, 'server/package.json'))('pg')
  const db = new pg.Client(url)
  await db.connect()
  try {
    await run(db)
  } finally {
    await db.end()
  }
}
