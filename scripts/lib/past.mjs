import { createRequire } from 'node:module'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { promisify } from 'node:util'
import { brotliCompress, brotliDecompress, constants, gunzip, gzip } from 'node:zlib'
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
    const past = {
      addOns: await all(`select to_jsonb(add_on) - 'id' - 'site_id' row from add_on where source = 'reading'`),
      pages: Object.fromEntries((await all('select id, path from page')).map(({ id, path }) => [id, path])),
      sweeps: [],
    }
    for (const { id, lens, ...sweep } of sweeps) {
      const rows = (table, columns, where = '') =>
        all(`select ${columns} from ${table} where sweep_id = $1 ${where}`, id)
      const readings = await rows('reading', '*', 'order by id')
      const details = await Promise.all(
        readings.map(async ({ detail }) => detail && JSON.parse(await promisify(gunzip)(detail))),
      )
      const traced = details.flatMap((detail) => detail?.traceId ?? [])
      past.sweeps.push({
        lens,
        sweep: omit(sweep, ['site_id', 'lens_id']),
        tables: {
          sweep_page: await rows('sweep_page', 'page_id, state'),
          reading: readings.map((row, index) => ({ ...withoutSweep(row), detail: details[index] })),
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
    const text = JSON.stringify(past).replaceAll(`localhost:${new URL(standinAddress).port}`, `localhost:${PORT}`)
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
  const text = (await promisify(brotliDecompress)(readFileSync(file))).toString()
  const past = JSON.parse(text.replaceAll(`localhost:${PORT}`, `localhost:${new URL(standinAddress).port}`))
  const db = await connected(databaseUrl)
  try {
    await db.query('begin')
    const ids = async (sql) => new Map((await db.query(sql, [siteId])).rows.map(({ name, id }) => [name, id]))
    const pageOf = await ids('select path "name", id from page where site_id = $1')
    const lensOf = await ids('select name, id from lens where site_id = $1')
    const insert = (table, rows) => insertRows(db, table, rows)
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
        const here = list.flatMap((row) => {
          const page_id = pageOf.get(past.pages[row.page_id])
          return page_id === undefined ? [] : [{ ...row, page_id, sweep_id: sweepId }]
        })
        await insert(table, await Promise.all(here.map((row) => made(table, row, siteId, moved))))
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

/** What the file writes in its own way, as the table wants it. */
async function made(table, row, siteId, moved) {
  if (table === 'use_fact') return { ...row, site_id: siteId }
  if (table === 'picture') return { ...row, jpeg: hex(Buffer.from(row.jpeg, 'base64')) }
  if (table !== 'reading') return row
  const detail = row.detail && hex(await promisify(gzip)(JSON.stringify(row.detail), { level: 4 }))
  return { ...row, detail, read_at: moved(row.read_at) }
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

const hex = (bytes) => `\\x${bytes.toString('hex')}`
const omit = (row, names) => Object.fromEntries(Object.entries(row).filter(([name]) => !names.includes(name)))
const withoutSweep = (row) => omit(row, ['sweep_id', 'id', 'site_id'])
