import type { Database } from './database.js'
import { Refusal } from './refusal.js'

/** A sort of thing that the CMS goes on keeping though nobody may need it. */
interface Sort {
  id: string
  name: string
  table: string
  /** Which rows, and by which moment they are old. */
  where: string
  at: string
  /** Who would know, before any of it goes. */
  ask: string
}

const SORTS: Sort[] = [
  {
    id: 'revisions',
    name: 'Old versions of pages',
    table: 'loam_revisions',
    where: `kind = 'revision'`,
    at: 'at',
    ask: 'whoever edits: they are what an editor can go back to',
  },
  {
    id: 'drafts-by-itself',
    name: 'Drafts that the editor made by itself',
    table: 'loam_revisions',
    where: `kind = 'by itself'`,
    at: 'at',
    ask: 'whoever edits: an unsaved text may be among them',
  },
  {
    id: 'trash',
    name: 'Pages in the bin',
    table: 'loam_revisions',
    where: `kind = 'bin'`,
    at: 'at',
    ask: 'whoever threw them away',
  },
  {
    id: 'fleeting',
    name: 'Entries whose time is over',
    table: 'loam_fleeting',
    where: 'expires_at < now()',
    at: 'expires_at',
    ask: 'nobody: the CMS itself takes them for gone',
  },
  {
    id: 'details',
    name: 'Details of pages that are gone',
    table: 'loam_details',
    where: `page like '/gone/%'`,
    at: 'at',
    ask: 'nobody: no page has them',
  },
]
const AGES = [0, 30, 365]

/** What the CMS keeps for nobody, by sort and age; and the air in its tables. */
export class Keepings {
  constructor(private readonly database: Database) {}

  async setUp(): Promise<void> {
    const { database } = this
    await database.query(
      'create table if not exists loam_revisions (id serial primary key, page text not null, kind text not null, at timestamptz not null, words text not null)',
    )
    await database.query(
      'create table if not exists loam_fleeting (name text primary key, expires_at timestamptz not null, value text not null)',
    )
    await database.query(
      'create table if not exists loam_details (id serial primary key, page text not null, name text not null, at timestamptz not null, value text not null)',
    )
    const [first] = await database.query<{ n: number }>('select count(*)::int n from loam_fleeting')
    if (first!.n > 0) return
    await database.query(
      `insert into loam_revisions (page, kind, at, words)
       select '/articles/' || (g % 24), case when g % 11 = 0 then 'by itself' when g % 97 = 0 then 'bin' else 'revision' end,
         now() - make_interval(hours => g * 12), repeat(md5(g::text), 20) from generate_series(1, 2400) g`,
    )
    await database.query(
      `insert into loam_fleeting select 'feed_' || g, now() - make_interval(hours => g), repeat(md5(g::text), 12) from generate_series(1, 3000) g`,
    )
    await database.query(
      `insert into loam_details (page, name, at, value) select '/gone/' || (g % 40), 'picture', now() - make_interval(days => g), md5(g::text) from generate_series(1, 900) g`,
    )
  }

  async list() {
    return Promise.all(
      SORTS.map(async ({ id, name, table, where, at, ask }) => ({
        id,
        name,
        ask,
        ages: await Promise.all(
          AGES.map(async (olderThanDays) => {
            const [sum] = await this.database.query<{ rows: number; bytes: string }>(
              `select count(*)::int rows, coalesce(sum(pg_column_size(t)), 0) bytes from ${table} t
               where ${where} and ${at} < now() - make_interval(days => $1)`,
              [olderThanDays],
            )
            return { olderThanDays, rows: sum!.rows, bytes: Number(sum!.bytes) }
          }),
        ),
      })),
    )
  }

  async remove(id: unknown, olderThanDays: unknown): Promise<number> {
    const sort = SORTS.find((one) => one.id === id)
    if (!sort)
      throw new Refusal(422, 'The site keeps nothing of that sort.', {
        problems: [{ at: '/id', expected: `one of ${SORTS.map((one) => one.id).join(', ')}` }],
      })
    if (!Number.isInteger(olderThanDays) || Number(olderThanDays) < 0)
      throw new Refusal(422, 'Nothing was removed.', {
        problems: [{ at: '/olderThanDays', expected: 'a number of days' }],
      })
    const gone = await this.database.query(
      `delete from ${sort.table} where ${sort.where} and ${sort.at} < now() - make_interval(days => $1) returning 1`,
      [olderThanDays],
    )
    return gone.length
  }

  /** Gives the air in tables back to the disk. Nobody can read or write a table meanwhile. */
  async compact(wanted: unknown) {
    const all = (
      await this.database.query<{ name: string }>(`select tablename name from pg_tables where schemaname = 'public'`)
    ).map(({ name }) => name)
    const names = Array.isArray(wanted) ? wanted : []
    const odd = names.findIndex((name) => !all.includes(name as string))
    if (names.length === 0 || odd >= 0)
      throw new Refusal(422, 'Nothing was changed.', {
        problems: [{ at: odd < 0 ? '/tables' : `/tables/${odd}`, expected: 'a table of this site' }],
      })
    const tables: { name: string; before: number; after: number; lockedMs: number }[] = []
    for (const name of names as string[]) {
      const before = await this.sizeOf(name)
      const began = performance.now()
      await this.database.query(`vacuum full public."${name}"`)
      tables.push({ name, before, after: await this.sizeOf(name), lockedMs: Math.round(performance.now() - began) })
    }
    return tables
  }

  private async sizeOf(name: string): Promise<number> {
    const [size] = await this.database.query<{ bytes: string }>('select pg_total_relation_size($1::regclass) bytes', [
      `public."${name}"`,
    ])
    return Number(size!.bytes)
  }
}
