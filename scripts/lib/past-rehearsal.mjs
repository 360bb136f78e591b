import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, brotliDecompressSync } from 'node:zlib'
import { inserter, wholeRows, within } from './past-rows.mjs'
import { ROOT } from './workspace.mjs'

export const REHEARSAL_FILE = join(ROOT, 'demo/rehearsal.br')
/** The port that addresses in the file carry. */
const PORT = 4610
const HOUR = 3_600_000
/** The rehearsal was this long ago. */
const AGO = 20 * HOUR

const TABLES = {
  rehearsal_page: 'rehearsal_id',
  rehearsal_picture: 'rehearsal_id',
  accepted_difference: 'site_id',
}

/** Writes a stack's one rehearsal to the file, by page paths and lens names instead of numbers. */
export async function saveRehearsal({ databaseUrl, standinAddress }, id, file = REHEARSAL_FILE) {
  await within(databaseUrl, async (db) => {
    const all = async (sql, ...values) => (await db.query(sql, values)).rows
    const [{ row }] = await all(`select to_jsonb(rehearsal) - 'id' row from rehearsal where id = $1`, id)
    const tables = {}
    for (const [table, by] of Object.entries(TABLES))
      tables[table] = (
        await all(
          `select to_jsonb(t) - '${by}' - 'site_id' - 'bytes_id' row, path, lens.name lens from ${wholeRows(table)} t
           join page on page.id = t.page_id join lens on lens.id = t.lens_id where t.${by} = $1`,
          by === 'site_id' ? row.site_id : id,
        )
      ).map(({ row: each, path, lens }) => ({ ...each, page_id: path, lens_id: lens }))
    // One picture a side is shown, and the others were only there to be compared.
    tables.rehearsal_picture = tables.rehearsal_picture.filter(({ turn, moment }) => turn < 2 && moment === 0)
    const text = JSON.stringify({ row, tables }).replaceAll(
      `localhost:${new URL(standinAddress).port}`,
      `localhost:${PORT}`,
    )
    writeFileSync(file, brotliCompressSync(Buffer.from(text)))
  })
}

/** Gives a site the recorded rehearsal, as if it had been made the day before. All of it or nothing. */
export async function loadRehearsal({ databaseUrl, standinAddress }, siteId, file = REHEARSAL_FILE) {
  const text = brotliDecompressSync(readFileSync(file)).toString()
  const { row, tables } = JSON.parse(text.replaceAll(`localhost:${PORT}`, `localhost:${new URL(standinAddress).port}`))
  await within(databaseUrl, async (db) => {
    const ids = async (sql) => new Map((await db.query(sql, [siteId])).rows.map(({ name, id }) => [name, id]))
    const pages = await ids('select path "name", id from page where site_id = $1')
    const lenses = await ids('select name, id from lens where site_id = $1')
    const later = Date.now() - AGO - new Date(row.started_at).getTime()
    const moved = (time) => new Date(new Date(time).getTime() + later)
    const insert = inserter(db)
    await db.query('begin')
    try {
      const { rows } = await db.query(`select nextval('rehearsal_id_seq') id`)
      const id = Number(rows[0].id)
      await insert('rehearsal', {
        ...row,
        id,
        site_id: siteId,
        started_at: moved(row.started_at),
        finished_at: moved(row.finished_at),
      })
      for (const [table, list] of Object.entries(tables))
        for (const { page_id: path, lens_id: lens, accepted_at, ...each } of list) {
          const place = { page_id: pages.get(path), lens_id: lenses.get(lens) }
          if (place.page_id === undefined || place.lens_id === undefined) continue
          const of = TABLES[table] === 'site_id' ? { site_id: siteId } : { rehearsal_id: id }
          await insert(table, { ...each, ...place, ...of, ...(accepted_at && { accepted_at: moved(accepted_at) }) })
        }
      await db.query('commit')
    } catch (error) {
      await db.query('rollback')
      throw error
    }
  })
}
