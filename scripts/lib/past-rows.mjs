import { createRequire } from 'node:module'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { ROOT } from './workspace.mjs'

/** Puts rows that were recorded elsewhere into a table, column by column. A picture's bytes go where those of the site are kept. */
export const inserter = (db) => async (table, row) => {
  const values = 'jpeg' in row ? await withBytesApart(db, row) : row
  const columns = Object.keys(values)
  const { rows } = await db.query(
    `insert into ${table} (${columns.join(', ')}) select ${columns.join(', ')}
     from json_populate_record(null::${table}, $1) returning *`,
    [JSON.stringify(values)],
  )
  return rows[0]
}

/** What to save of a table: rows with everything that stands apart from them. */
export const wholeRows = (table) =>
  table === 'picture' || table === 'rehearsal_picture'
    ? `(select whole.*, content jpeg from ${table} whole join picture_bytes on picture_bytes.id = bytes_id)`
    : table

/** @param row With its picture as PostgreSQL writes bytes. */
async function withBytesApart(db, { jpeg, bytes_id: _, ...row }) {
  const [of, id] = row.sweep_id === undefined ? ['rehearsal', row.rehearsal_id] : ['sweep', row.sweep_id]
  await db.query(
    `insert into picture_bytes (site_id, hash, content) select site_id, sha256($2::bytea), $2::bytea from ${of} where id = $1 on conflict do nothing`,
    [id, jpeg],
  )
  const { rows } = await db.query(
    `select picture_bytes.id from picture_bytes join ${of} on ${of}.site_id = picture_bytes.site_id where ${of}.id = $1 and hash = sha256($2::bytea)`,
    [id, jpeg],
  )
  return { ...row, bytes_id: rows[0].id }
}

/** What was read, reading by reading; one row may hold what was read by others. */
export async function detailsOf(readings) {
  const { unpackReadings } = await import(pathToFileURL(join(ROOT, 'server/dist/reading/reading-pack.js')).href)
  const key = ({ page_id, variant, repeat }) => `${page_id} ${variant} ${repeat}`
  const known = new Map()
  for (const row of readings)
    if (row.detail)
      for (const [repeat, reading] of await unpackReadings(bytesOf(row.detail), row.repeat))
        known.set(key({ ...row, repeat }), reading)
  return readings.map((row) => known.get(key(row)) ?? null)
}

const bytesOf = (detail) => (typeof detail === 'string' ? Buffer.from(detail.slice(2), 'hex') : detail)

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
