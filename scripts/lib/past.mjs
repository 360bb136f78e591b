import { createRequire } from 'node:module'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { promisify } from 'node:util'
import { brotliCompress, brotliDecompress, constants, gzip } from 'node:zlib'
import { insertFiles } from './past-files.mjs'
import { detailsOf, inserter, wholeRows } from './past-rows.mjs'
import { PAST } from './past-states.mjs'
import { ROOT } from './workspace.mjs'

export const PAST_FILE = join(ROOT, 'demo/past.br')
/** The port that addresses in the file carry, whichever the stand-in had and will have. */
const PORT = 4610
/** Pictures are large, so one page of each kind has one. */
const PICTURES = `select distinct on (page.kind) page_id from page join picture on page.id = page_id and sweep_id = $1 order by page.kind, position`
const DAY = 86_400_000
const AT_A_TIME = 2_000

/** Writes every sweep of a stack's one site to the file: what was measured, by page paths instead of numbers. */
export async function savePast({ databaseUrl, standinAddress }, file = PAST_FILE) {
  const db = await connected(databaseUrl)
  try {
    const all = async (sql, ...values) => (await db.query(sql, values)).rows
    const sweeps = await all(
      `select sweep.*, lens.name lens from sweep join lens on lens.id = lens_id where status = 'done' order by id`,
    )
    const last = sweeps.at(-1).id
    const lines = []
    const past = {
      addOns: await all(`select to_jsonb(add_on) - 'id' - 'site_id' row from add_on where source = 'reading'`),
      pages: Object.fromEntries((await all('select id, path from page')).map(({ id, path }) => [id, path])),
      sweeps: [],
    }
    for (const { id, lens, ...sweep } of sweeps) {
      const rows = (table, columns, where = '') =>
        all(`select ${columns} from ${wholeRows(table)} t where sweep_id = $1 ${where}`, id)
      const readings = await rows('reading', '*', 'order by id')
      const details = await detailsOf(readings)
      const traced = details.flatMap((detail) => detail?.traceId ?? [])
      lines.push(...details.map((detail) => JSON.stringify(detail)))
      past.sweeps.push({
        lens,
        sweep: omit(sweep, ['site_id', 'lens_id']),
        tables: {
          sweep_page: await rows('sweep_page', 'page_id, state'),
          // Their details are lines of their own below, which a reader need not take apart.
          reading: readings.map(({ detail: _, detail_in: __, ...row }) => withoutSweep(row)),
          toll: (await rows('toll', '*')).map(withoutSweep),
          file_use: (await rows('file_use', '*')).map(withoutSweep),
          file_toll: (await rows('file_toll', '*')).map(withoutSweep),
          use_fact: (await rows('use_fact', 'page_id, slug, feature, source, word, because')).map(withoutSweep),
          picture:
            id === last
              ? await rows(
                  'picture',
                  `page_id, variant, width, height, encode(jpeg, 'base64') jpeg`,
                  `and page_id in (select page_id from (${PICTURES}) chosen)`,
                )
              : [],
        },
        traces: id === last ? await all('select trace_id, spans from trace_part where trace_id = any($1)', traced) : [],
      })
    }
    const text = [JSON.stringify(past), ...lines]
      .join('\n')
      .replaceAll(`localhost:${new URL(standinAddress).port}`, `localhost:${PORT}`)
    const packed = await promisify(brotliCompress)(Buffer.from(text), {
      params: {
        [constants.BROTLI_PARAM_QUALITY]: 9,
        [constants.BROTLI_PARAM_LGWIN]: 24,
        [constants.BROTLI_PARAM_SIZE_HINT]: text.length,
      },
    })
    mkdirSync(dirname(file), { recursive: true })
    writeFileSync(file, packed)
    console.log(
      `${file}: ${past.sweeps.length} sweeps, ${(text.length / 1e6).toFixed(0)} MB in ${(packed.length / 1e6).toFixed(1)} MB.`,
    )
  } finally {
    await db.end()
  }
}

/** Puts the recorded sweeps before a site's own, as if they had been made on their days. All of it or nothing. */
export async function loadPast({ databaseUrl, standinAddress }, siteId, file = PAST_FILE) {
  const [head, ...details] = await linesOf(file, new URL(standinAddress).port)
  const past = JSON.parse(head)
  const db = await connected(databaseUrl)
  try {
    await db.query('begin')
    const ids = async (sql) => new Map((await db.query(sql, [siteId])).rows.map(({ name, id }) => [name, id]))
    const pageOf = await ids('select path "name", id from page where site_id = $1')
    const lensOf = await ids('select name, id from lens where site_id = $1')
    const insert = (table, rows) => insertRows(db, table, rows)
    const placed = (list, sweepId) =>
      list.map((row) => ({ ...row, page_id: pageOf.get(past.pages[row.page_id]), sweep_id: sweepId }))
    const onPages = (list, sweepId) => placed(list, sweepId).filter(({ page_id }) => page_id !== undefined)
    await insert(
      'add_on',
      past.addOns.map(({ row }) => ({ ...row, site_id: siteId })),
    )
    for (const [index, { lens, sweep, tables, traces }] of past.sweeps.entries()) {
      const began = new Date(sweep.started_at).getTime()
      const later = Date.now() - PAST[index].daysAgo * DAY - began
      const moved = (time) => time && new Date(new Date(time).getTime() + later)
      const { rows } = await db.query(
        `insert into sweep (site_id, lens_id, purpose, status, repeats, variants, sources, inventory, sample, started_at, finished_at)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) returning id`,
        [
          siteId,
          lensOf.get(lens),
          sweep.purpose,
          sweep.status,
          sweep.repeats,
          ...['variants', 'sources', 'inventory', 'sample'].map((name) => sweep[name] && JSON.stringify(sweep[name])),
          moved(sweep.started_at),
          moved(sweep.finished_at),
        ],
      )
      const sweepId = rows[0].id
      for (const [table, list] of Object.entries(tables)) {
        // A page that the site no longer has is left out, and its details with it.
        const here = table === 'reading' ? placed(list, sweepId) : onPages(list, sweepId)
        if (table === 'file_use') continue
        if (table === 'reading') await insertReadings(db, here, details.splice(0, list.length), moved)
        else if (table === 'picture') for (const row of here) await inserter(db)(table, made(table, row, siteId))
        else if (table === 'file_toll') await insertFiles(db, siteId, here, onPages(tables.file_use, sweepId))
        else
          await insert(
            table,
            here.map((row) => made(table, row, siteId)),
          )
      }
      await insert('trace_part', traces)
    }
    await db.query('commit')
  } catch (error) {
    await db.query('rollback')
    throw error
  } finally {
    await db.end()
  }
}

/** The file's lines, with the port that the stand-in has now. */
async function linesOf(file, port) {
  const text = (await promisify(brotliDecompress)(readFileSync(file))).toString()
  const here = `localhost:${port}`
  return (port === String(PORT) ? text : text.replaceAll(`localhost:${PORT}`, here)).split('\n')
}

/** What the file writes in its own way, as the table wants it. */
function made(table, row, siteId) {
  if (table === 'use_fact') return { ...row, site_id: siteId }
  return table === 'picture' ? { ...row, jpeg: `\\x${Buffer.from(row.jpeg, 'base64').toString('hex')}` } : row
}

/** Readings with their details, which stay text: nothing here needs to know what is in them. */
async function insertReadings(db, rows, details, moved) {
  const packed = await Promise.all(
    details.map((detail) => (detail === 'null' ? null : promisify(gzip)(detail, { level: 1 }))),
  )
  for (const [index, { read_at, page_id, ...row }] of rows.entries()) {
    if (page_id === undefined) continue
    const full = { ...row, page_id, read_at: moved(read_at), detail: packed[index] }
    const columns = Object.keys(full)
    await db.query(
      `insert into reading (${columns.join(', ')}) values (${columns.map((_, n) => `$${n + 1}`).join(', ')})`,
      Object.values(full),
    )
  }
}

async function insertRows(db, table, rows) {
  for (let from = 0; from < rows.length; from += AT_A_TIME) {
    const some = rows.slice(from, from + AT_A_TIME)
    const columns = Object.keys(some[0]).join(', ')
    await db.query(
      `insert into ${table} (${columns}) select ${columns} from json_populate_recordset(null::${table}, $1) on conflict do nothing`,
      [JSON.stringify(some)],
    )
  }
}

async function connected(url) {
  const pg = createRequire(join(ROOT, 'server/package.json'))('pg')
  const db = new pg.Client(url)
  await db.connect()
  return db
}

const omit = (row, names) => Object.fromEntries(Object.entries(row).filter(([name]) => !names.includes(name)))
const withoutSweep = (row) => omit(row, ['sweep_id', 'id', 'site_id'])
