import type { Database } from './database.js'
import type { PageBook } from '../content/page-book.js'
import type { Installed } from './installed.js'
import { LeftFiles } from './left-files.js'
import { BLOCK, readBlock } from './make-page.js'
import { Refusal } from './refusal.js'

export interface Leftover {
  /** `table:NAME`, `option:NAME`, `task:NAME`, `file:PATH` or `block:PATH BLOCK`. */
  id: string
  type: 'table' | 'option' | 'task' | 'file' | 'block'
  name: string
  /** The add-on it belonged to, as the CMS remembers it. */
  of: string
  bytes: number
  /** For tables. */
  rows?: number
  /** For blocks: the page that has it in its words. */
  path?: string
  /** Of a table: when its newest row was written, by the row's own word. Of a file: when it was laid down. */
  lastWritten?: string
  /** Of a file: when a browser last asked for it, as far as the access log goes back. */
  lastRead?: string
  /** Why it is thought to be nobody's. */
  because: string[]
}

/** Three add-ons that were removed long before anybody looked: what they left in the database and among the uploads. */
const REMOVED = [
  { of: 'Visitor Book Pro', table: 'vbook_entries', rows: 18_000, options: 14, tasks: ['vbook_digest'], files: [] },
  {
    of: 'Banner Rotor',
    table: 'rotor_banners',
    rows: 2_600,
    options: 31,
    tasks: ['rotor_turn', 'rotor_count'],
    files: ['banner-spring.svg', 'banner-members.svg', 'turn.js'],
  },
  { of: 'Form Nook', table: 'nook_letters', rows: 41_000, options: 9, tasks: [], files: [] },
]
/** Names of blocks that they drew. */
const THEIR_BLOCKS: Record<string, string> = { 'nook-form': 'Form Nook' }

const RECORD = 'the site’s own record gives it to what is not installed'
const LONGEST_ID = 300
const LONGEST_NAME = 200

/** The CMS's own record of who owns which table, option and task; and what is left where the owner has gone. */
export class Leftovers {
  constructor(
    private readonly database: Database,
    private readonly installed: Installed,
    private readonly book: PageBook,
    private readonly files: LeftFiles,
  ) {}

  async setUp(): Promise<void> {
    const { database } = this
    await database.query('create table if not exists loam_tables (name text primary key, owner text not null)')
    await database.query(
      'create table if not exists loam_options (name text primary key, owner text not null, value text not null)',
    )
    await database.query(
      'create table if not exists loam_tasks (name text primary key, owner text not null, every_seconds integer not null, last_run timestamptz, last_ms double precision, last_error text)',
    )
    await this.files.setUp()
    const [first] = await database.query<{ n: number }>('select count(*)::int n from loam_options')
    if (first!.n === 0) await this.leaveBehind()
    for (const { manifest, tables = [], tasks = [] } of this.installed.addOns) {
      for (const table of tables)
        await database.query('insert into loam_tables values ($1, $2) on conflict do nothing', [table, manifest.slug])
      for (const task of tasks)
        await database.query(
          'insert into loam_tasks (name, owner, every_seconds) values ($1, $2, $3) on conflict do nothing',
          [task.name, manifest.slug, task.everySeconds],
        )
    }
  }

  private async leaveBehind(): Promise<void> {
    const { database } = this
    for (const { of, table, rows, options, tasks, files } of REMOVED) {
      await database.query(
        `create table if not exists ${table} (id integer primary key, said_at timestamptz, words text)`,
      )
      await database.query(
        `insert into ${table} select g, now() - make_interval(days => 700, hours => g), repeat(md5(g::text), 3) from generate_series(1, ${rows}) g on conflict do nothing`,
      )
      await database.query('insert into loam_tables values ($1, $2) on conflict do nothing', [table, of])
      await database.query(
        `insert into loam_options select $1 || '_setting_' || g, $2, repeat('a:1;', 40) from generate_series(1, ${options}) g on conflict do nothing`,
        [table.split('_')[0], of],
      )
      for (const task of tasks)
        await database.query(
          'insert into loam_tasks (name, owner, every_seconds) values ($1, $2, 3600) on conflict do nothing',
          [task, of],
        )
      for (const [n, file] of files.entries())
        await this.files.write(`/uploads/${table}/${file}`, of, Buffer.from(`/* ${file} */`.padEnd(9_000 + 700 * n)))
    }
  }

  async list(): Promise<Leftover[]> {
    const here = this.installed.addOns.map((addOn) => addOn.manifest.slug)
    const tables = await this.database.query<{ name: string; owner: string; bytes: string }>(
      `select name, owner, pg_total_relation_size(format('public.%I', name)::regclass) bytes from loam_tables
       where owner <> all($1) and to_regclass(format('public.%I', name)) is not null order by name`,
      [here],
    )
    const options = await this.database.query<{ name: string; owner: string; bytes: number }>(
      'select name, owner, pg_column_size(loam_options.*)::int bytes from loam_options where owner <> all($1) order by name',
      [here],
    )
    const tasks = await this.database.query<{ name: string; owner: string; bytes: number; last_run: Date | null }>(
      'select name, owner, last_run, pg_column_size(loam_tasks.*)::int bytes from loam_tasks where owner <> all($1) order by name',
      [here],
    )
    const files = await this.files.list(here)
    const found: Leftover[] = []
    for (const { name, owner, bytes } of tables) {
      const [count] = await this.database.query<{ n: number }>(`select count(*)::int n from ${quoted(name)}`)
      const lastWritten = await this.newestRow(name)
      found.push({
        id: `table:${name}`,
        type: 'table',
        name,
        of: owner,
        bytes: Number(bytes),
        rows: count!.n,
        ...(lastWritten && { lastWritten: lastWritten.toISOString() }),
        because: [RECORD],
      })
    }
    for (const { name, owner, bytes } of options)
      found.push({ id: `option:${name}`, type: 'option', name, of: owner, bytes, because: [RECORD] })
    for (const { name, owner, bytes, last_run } of tasks)
      found.push({
        id: `task:${name}`,
        type: 'task',
        name,
        of: owner,
        bytes,
        because: [RECORD, last_run ? `ran last on ${last_run.toISOString().slice(0, 10)}` : 'no code answers to it'],
      })
    for (const { path, owner, bytes } of files)
      found.push({ id: `file:${path}`, type: 'file', name: path, of: owner, bytes, because: [RECORD] })
    return [...found, ...this.blocks()]
  }

  /** By the table's first column of times; null where it has none, or no row. */
  private async newestRow(table: string): Promise<Date | null> {
    const [column] = await this.database.query<{ name: string }>(
      `select column_name name from information_schema.columns
       where table_schema = 'public' and table_name = $1 and data_type = 'timestamp with time zone' order by ordinal_position limit 1`,
      [table],
    )
    if (!column) return null
    const [newest] = await this.database.query<{ at: Date | null }>(
      `select max(${quoted(column.name)}) at from ${quoted(table)}`,
    )
    return newest!.at
  }

  /** Blocks in the content that nobody draws, which visitors see as they are written. */
  private blocks(): Leftover[] {
    const { installed } = this
    const isDrawn = (name: string) => installed.addOns.some(({ blocks }) => blocks && Object.hasOwn(blocks, name))
    return this.book.all().flatMap(({ path, body }) => {
      const seen = new Set<string>()
      return [...body.matchAll(BLOCK)].flatMap((match): Leftover[] => {
        const { name } = readBlock(match)
        const [block] = match
        if (isDrawn(name) || seen.has(block)) return []
        seen.add(block)
        return [
          {
            id: `block:${path} ${block}`.slice(0, LONGEST_ID),
            type: 'block',
            name: block.slice(0, LONGEST_NAME),
            of: installed.drawerOf(name) ?? THEIR_BLOCKS[name] ?? 'nobody known',
            bytes: Buffer.byteLength(block),
            path,
            because: ['no add-on draws it', 'visitors see it as it is written'],
          },
        ]
      })
    })
  }

  /** Removes what is named, all or none. @throws Refusal 422 for an id that is no leftover. */
  async remove(ids: readonly string[]): Promise<number> {
    const all = await this.list()
    const problems = ids.flatMap((id, index) =>
      all.some((leftover) => leftover.id === id) ? [] : [{ at: `/ids/${index}`, expected: 'the id of a leftover' }],
    )
    if (problems.length > 0) throw new Refusal(422, 'Nothing was removed.', { problems })
    const doomed = all.filter((leftover) => ids.includes(leftover.id))
    await this.database.transaction(async (query) => {
      for (const { type, name, of, path } of doomed) {
        if (type === 'block')
          await query('insert into loam_cleared_blocks values ($1, $2, $3) on conflict do nothing', [path, name, of])
        else if (type === 'table') {
          await query(`drop table ${quoted(name)}`)
          await query('delete from loam_tables where name = $1', [name])
        } else if (type === 'file') await query('delete from loam_files where path = $1', [name])
        else await query(`delete from ${type === 'option' ? 'loam_options' : 'loam_tasks'} where name = $1`, [name])
      }
    })
    await this.book.reload()
    await this.files.reload()
    return doomed.length
  }

  /** The tables of the add-ons that are installed, with the space that a rewrite would give back. */
  async tables(): Promise<Map<string, { name: string; rows: number; bytes: number; reclaimableBytes: number }[]>> {
    const byOwner = new Map<string, { name: string; rows: number; bytes: number; reclaimableBytes: number }[]>()
    const rows = await this.database.query<{ name: string; owner: string }>(
      `select name, owner from loam_tables where to_regclass(format('public.%I', name)) is not null order by name`,
    )
    for (const { name, owner } of rows) {
      // A row's own bytes, its header and its line pointer; what the table has beyond that is air.
      const [size] = await this.database.query<{ rows: number; live: string; heap: string; bytes: string }>(
        `select count(*)::int rows, coalesce(sum(pg_column_size(t.*) + 28), 0) live,
         pg_relation_size('public.${quoted(name)}') heap, pg_total_relation_size('public.${quoted(name)}') bytes from ${quoted(name)} t`,
      )
      const air = Math.max(0, Number(size!.heap) - Math.ceil(Number(size!.live) / 8_192) * 8_192)
      const of = byOwner.get(owner) ?? byOwner.set(owner, []).get(owner)!
      of.push({ name, rows: size!.rows, bytes: Number(size!.bytes), reclaimableBytes: air })
    }
    return byOwner
  }
}

const quoted = (name: string) => `"${name.replaceAll('"', '""')}"`
