import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, brotliDecompressSync } from 'node:zlib'
import { inserter, wholeRows, within } from './past-rows.mjs'
import { ROOT } from './workspace.mjs'

export const WEIGH_IN_FILE = join(ROOT, 'demo/weigh-in.br')
const DAY = 86_400_000
/** The weigh-in was this long ago. */
const AGO = 6 * DAY

/** Writes a stack's weigh-in to the file: figures and pictures, and not what each reading was in detail. */
export async function saveWeighIn({ databaseUrl }, id, file = WEIGH_IN_FILE) {
  await within(databaseUrl, async (db) => {
    const all = async (sql, ...values) => (await db.query(sql, values)).rows
    const [weighIn] = await all('select title, variants, add_ons, created_at, sweep_id from weigh_in where id = $1', id)
    const { sweep_id: sweepId, ...row } = weighIn
    const [{ sweep }] = await all(
      `select to_jsonb(sweep) - 'id' - 'site_id' - 'run_id' - 'sources' sweep from sweep where id = $1`,
      sweepId,
    )
    const [{ lens }] = await all('select name lens from lens where id = $1', sweep.lens_id)
    const readings = await all(
      `select to_jsonb(r) - 'id' - 'sweep_id' - 'page_id' - 'detail' - 'detail_in' row, path from reading r
       join page on page.id = r.page_id where sweep_id = $1`,
      sweepId,
    )
    const pictures = await all(
      `select variant, encode(jpeg, 'base64') jpeg, width, height, path from ${wholeRows('picture')} t join page on page.id = page_id
       where sweep_id = $1`,
      sweepId,
    )
    const text = JSON.stringify({ row, sweep: { ...sweep, lens_id: lens }, readings, pictures })
    writeFileSync(file, brotliCompressSync(Buffer.from(text)))
  })
}

/** Gives a site the recorded weigh-in, as if it had been made some days before. All of it or nothing. */
export async function loadWeighIn({ databaseUrl }, siteId, file = WEIGH_IN_FILE) {
  const { row, sweep, readings, pictures } = JSON.parse(brotliDecompressSync(readFileSync(file)).toString())
  await within(databaseUrl, async (db) => {
    const ids = async (sql) => new Map((await db.query(sql, [siteId])).rows.map(({ name, id }) => [name, id]))
    const pages = await ids('select path "name", id from page where site_id = $1')
    const lenses = await ids('select name, id from lens where site_id = $1')
    const later = Date.now() - AGO - new Date(row.created_at).getTime()
    const moved = (time) => new Date(new Date(time).getTime() + later)
    const insert = inserter(db)
    await db.query('begin')
    try {
      const { rows } = await db.query('select sources from sweep where site_id = $1 order by id desc limit 1', [siteId])
      const times = { started_at: moved(sweep.started_at), finished_at: moved(sweep.finished_at) }
      const lens = lenses.get(sweep.lens_id)
      const made = { ...sweep, ...times, site_id: siteId, lens_id: lens, sources: rows[0].sources }
      const { id: sweepId } = await insert('sweep', made)
      await db.query('update sweep set run_id = id where id = $1', [sweepId])
      for (const path of new Set(readings.map((reading) => reading.path)))
        await insert('sweep_page', { sweep_id: sweepId, page_id: pages.get(path), state: 'done' })
      for (const { row: reading, path } of readings)
        await insert('reading', {
          ...reading,
          read_at: moved(reading.read_at),
          sweep_id: sweepId,
          page_id: pages.get(path),
        })
      for (const { path, jpeg, ...picture } of pictures)
        await insert('picture', {
          ...picture,
          sweep_id: sweepId,
          page_id: pages.get(path),
          jpeg: `\\x${Buffer.from(jpeg, 'base64').toString('hex')}`,
        })
      await insert('weigh_in', {
        ...row,
        created_at: moved(row.created_at),
        site_id: siteId,
        sweep_id: sweepId,
      })
      await db.query('commit')
    } catch (error) {
      await db.query('rollback')
      throw error
    }
  })
}
