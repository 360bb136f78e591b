// What a page read takes in the database, beside what the same rows took as they were kept before 1 December 2026: files and used parts
// by their whole addresses in two tables, readings and pictures each by itself. With a table of what that comes to at size.
import { promisify } from 'node:util'
import { gzip } from 'node:zlib'
import { QueryTypes } from 'sequelize'
import {
  connect,
  groupsOf,
  lighterPicture,
  packRepeats,
  ReadingRow,
  readDetail,
  readingsOf,
  storeGroups,
  SweepRow,
} from '@unvelt/server'

const database = await connect(process.env.DATABASE_URL!)
const sql = (text: string, bind: unknown[] = []) => database.query(text, { bind })
const sizeOf = async (tables: readonly string[]) => {
  const [row] = await database.query<{ bytes: string }>(
    `select ${tables.map((table) => `pg_total_relation_size('${table}')`).join(' + ')} bytes`,
    { type: QueryTypes.SELECT },
  )
  return Number(row!.bytes)
}
const count = async (what: string) => {
  const [row] = await database.query<{ count: string }>(`select count(*) from ${what}`, { type: QueryTypes.SELECT })
  return Number(row!.count)
}

try {
  // The demo's past was put in reading by reading; read anew it would be packed page by page.
  const places = await database.query<{ sweepId: number; pageId: number; variant: string }>(
    'select distinct sweep_id "sweepId", page_id "pageId", variant from reading where detail is not null',
    { type: QueryTypes.SELECT },
  )
  for (const place of places) await packRepeats(database, place)
  for (const { sweepId, pageId, variant } of places) {
    if (variant !== 'live') continue
    const { sources } = (await SweepRow.findByPk(sweepId))!
    await storeGroups(database, { sweepId, pageId }, groupsOf(await readingsOf(sweepId, pageId, variant), sources))
  }
  await asBefore()
  await picturesLighter()
  // Both without what was written over.
  for (const table of [...TABLES(), ...BEFORE()].map(({ table }) => table)) await sql(`vacuum full ${table}`)

  const pages = await count(`(select distinct sweep_id, page_id from toll where variant = 'live') pages`)
  const pictures = await count('picture')
  const each = async (kept: ReturnType<typeof TABLES>) => {
    const sizes = new Map<string, number>()
    for (const { what, table, per } of kept)
      sizes.set(what, (sizes.get(what) ?? 0) + (await sizeOf([table])) / (per === 'picture' ? pictures : pages))
    return sizes
  }
  const [now, before] = [await each(TABLES()), await each(BEFORE())]
  const sum = (sizes: ReadonlyMap<string, number>) => [...sizes.values()].reduce((a, b) => a + b, 0)
  const kb = (bytes: number) => `${(bytes / 1e3).toFixed(1)} KB`
  console.log(`${pages} pages read, ${await count('reading')} readings, ${pictures} pictures; indexes and all`)
  for (const [what, bytes] of now)
    console.log(
      `${what.padEnd(22)} ${kb(bytes).padStart(9)} a page, before ${(before.has(what) ? kb(before.get(what)!) : 'not counted').padStart(9)}`,
    )
  console.log(`${'all'.padEnd(22)} ${kb(sum(now)).padStart(9)} a page, before ${kb(sum(before)).padStart(9)}`)
  const rows = (sizes: ReadonlyMap<string, number>) => sum(sizes) - sizes.get('pictures')!
  console.log(
    `${'without pictures'.padEnd(22)} ${kb(rows(now)).padStart(9)} a page, before ${kb(rows(before)).padStart(9)}`,
  )
  table(sum(now), now.get('tolls')! + now.get('files')!)
  console.log(`storage ratio=${(sum(now) / sum(before)).toFixed(3)} goal=0.5`)
} finally {
  await database.close()
}

/** 1,000 sites of 2,000 pages, swept each week. */
function table(whole: number, thin: number): void {
  const READ = 1_000 * 2_000
  const tb = (bytes: number) => `${(bytes / 1e12).toFixed(2)} TB`
  for (const weeks of [4, 26, 52]) {
    const full = READ * weeks * whole
    const kept = READ * (4 * whole + (weeks - 4) * thin)
    console.log(
      `1,000 × 2,000 × ${String(weeks).padStart(2)} weeks: ${tb(full)} in full, ${tb(kept)} with the newest 4 sweeps in full`,
    )
  }
}

function TABLES() {
  return [
    { what: 'tolls', table: 'toll', per: 'page' },
    { what: 'files', table: 'page_file', per: 'page' },
    { what: 'files', table: 'file_address', per: 'page' },
    { what: 'files', table: 'payer_key', per: 'page' },
    { what: 'files', table: 'code_use', per: 'page' },
    { what: 'readings', table: 'reading', per: 'page' },
    { what: 'groups', table: 'prediction_groups', per: 'page' },
    { what: 'pictures', table: 'picture', per: 'picture' },
    { what: 'pictures', table: 'picture_bytes', per: 'picture' },
  ]
}

function BEFORE(): ReturnType<typeof TABLES> {
  return [
    { what: 'tolls', table: 'toll', per: 'page' },
    { what: 'files', table: 'before.file_toll', per: 'page' },
    { what: 'files', table: 'before.file_use', per: 'page' },
    { what: 'readings', table: 'before.reading', per: 'page' },
    { what: 'pictures', table: 'before.picture', per: 'picture' },
  ]
}

/** The demo's past was put in with its pictures as they had been taken; taken anew they would be kept more lightly. */
async function picturesLighter(): Promise<void> {
  const rows = await database.query<{ id: number; content: Buffer }>(
    'select id, content from picture_bytes where id in (select bytes_id from picture)',
    { type: QueryTypes.SELECT },
  )
  for (const { id, content } of rows)
    await sql('update picture_bytes set content = $2 where id = $1', [id, await lighterPicture(content)])
}

/** The same rows in tables as they were. Pictures of rehearsals are in neither. */
async function asBefore(): Promise<void> {
  await sql('delete from rehearsal_picture')
  await sql('delete from picture_bytes where id not in (select bytes_id from picture)')
  await sql('create schema before')
  await sql('create table before.file_toll as select * from file_toll')
  await sql('create index on before.file_toll (sweep_id, page_id)')
  await sql('create index on before.file_toll (sweep_id, payer)')
  await sql('create table before.file_use as select * from file_use')
  await sql('create index on before.file_use (sweep_id, page_id)')
  await sql(`create table before.picture as select sweep_id, page_id, variant, content, width, height
    from picture join picture_bytes on id = bytes_id`)
  await sql('create unique index on before.picture (sweep_id, page_id, variant)')
  await sql('create table before.reading (like reading including all)')
  await sql('insert into before.reading overriding system value select * from reading')
  const squeeze = promisify(gzip)
  for (const row of await ReadingRow.findAll({ where: { failure: null } })) {
    if (row.detail === null && row.detailIn === null) continue
    const detail = await squeeze(JSON.stringify(await readDetail(row)))
    await sql('update before.reading set detail = $1, detail_in = null where id = $2', [detail, row.id])
  }
}
