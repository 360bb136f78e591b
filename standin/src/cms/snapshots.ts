import type { Database } from './database.js'
import { Refusal } from './refusal.js'

export interface Snapshot {
  id: number
  name: string
  madeAt: string
  bytes: number
}

/** What is in a snapshot, and what became of it since. */
export interface SnapshotPart {
  name: string
  /** Slug of the add-on whose table it is; empty for the site's own. */
  of: string
  rows: number
  checksum: string
  /** Whether it still is what was written when the snapshot was made. */
  sound: boolean
  /** The table as it is now; null where there is none any more. */
  now: { rows: number; same: boolean } | null
}

const MOST_SNAPSHOTS = 20
/** As PostgreSQL says that there is no room left (appendix A of its manual). */
const DISK_FULL = '53100'
/** The rules' history only grows, and the snapshots' own list is not part of what it lists. */
const NOT_IN_IT = ['unvelt_rules', 'loam_snapshots', 'loam_snapshot_parts']

/** Copies of every table of the site, in a schema each. */
export class Snapshots {
  constructor(private readonly database: Database) {}

  async setUp(): Promise<void> {
    await this.database.query(
      'create table if not exists loam_snapshots (id serial primary key, name text not null, made_at timestamptz not null default now())',
    )
    await this.database.query(
      `create table if not exists loam_snapshot_parts (snapshot_id integer not null references loam_snapshots on delete cascade,
       name text not null, rows bigint not null, checksum text not null, primary key (snapshot_id, name))`,
    )
  }

  async list(): Promise<Snapshot[]> {
    const rows = await this.database.query<{ id: number; name: string; made_at: Date; bytes: string }>(
      `select id, name, made_at, (select coalesce(sum(pg_total_relation_size(c.oid)), 0) from pg_class c
       join pg_namespace n on n.oid = relnamespace where nspname = 'snapshot_' || id and relkind = 'r') bytes
       from loam_snapshots order by id desc`,
    )
    return rows.map(({ id, name, made_at, bytes }) => ({
      id,
      name,
      madeAt: made_at.toISOString(),
      bytes: Number(bytes),
    }))
  }

  async make(name: string): Promise<Snapshot> {
    if ((await this.list()).length >= MOST_SNAPSHOTS)
      throw new Refusal(409, `There are ${MOST_SNAPSHOTS} snapshots already.`)
    const [row] = await this.database.query<{ id: number }>(
      'insert into loam_snapshots (name) values ($1) returning id',
      [name],
    )
    const { id } = row!
    try {
      await this.database.transaction(async (query) => {
        await query(`create schema snapshot_${id}`)
        for (const { tablename } of await query(
          `select tablename from pg_tables where schemaname = 'public' and tablename <> all($1)`,
          [NOT_IN_IT],
        )) {
          await query(
            `create table snapshot_${id}."${tablename as string}" (like public."${tablename as string}" including all)`,
          )
          await query(
            `insert into snapshot_${id}."${tablename as string}" select * from public."${tablename as string}"`,
          )
          await query(
            `insert into loam_snapshot_parts select $1, $2, rows, checksum from (${sumOf(`public."${tablename as string}"`)}) sums`,
            [id, tablename],
          )
        }
      })
    } catch (error) {
      await this.database.query('delete from loam_snapshots where id = $1', [id])
      if ((error as { code?: string }).code === DISK_FULL)
        throw new Refusal(507, 'The site’s disk is full, so no snapshot was made.')
      throw error
    }
    return (await this.list()).find((snapshot) => snapshot.id === id)!
  }

  /** Every table of a snapshot, each summed up anew and held against what was written when it was made. */
  async inside(id: number): Promise<SnapshotPart[]> {
    await this.mustBe(id)
    const owners = new Map(
      (
        await this.database.query<{ name: string; owner: string }>(`select name, owner from snapshot_${id}.loam_tables`)
      ).map(({ name, owner }) => [name, owner]),
    )
    const parts = await this.database.query<{ name: string; rows: string; checksum: string }>(
      'select name, rows, checksum from loam_snapshot_parts where snapshot_id = $1 order by name',
      [id],
    )
    const found: SnapshotPart[] = []
    for (const { name, rows, checksum } of parts) {
      const [kept, now] = await Promise.all([this.sum(`snapshot_${id}`, name), this.sum('public', name)])
      found.push({
        name,
        of: owners.get(name) ?? '',
        rows: Number(rows),
        checksum,
        sound: kept?.checksum === checksum,
        now: now && { rows: now.rows, same: now.checksum === checksum },
      })
    }
    return found
  }

  /** Tables that came after a snapshot was made. */
  async newer(id: number): Promise<{ name: string; of: string; rows: number }[]> {
    await this.mustBe(id)
    const rows = await this.database.query<{ name: string; owner: string | null }>(
      `select tablename as name, (select owner from loam_tables where loam_tables.name = tablename) as owner from pg_tables
       where schemaname = 'public' and tablename <> all($2)
       and not exists (select 1 from loam_snapshot_parts p where p.snapshot_id = $1 and p.name = tablename) order by 1`,
      [id, NOT_IN_IT],
    )
    return Promise.all(
      rows.map(async ({ name, owner }) => ({
        name,
        of: owner ?? '',
        rows: (await this.sum('public', name))?.rows ?? 0,
      })),
    )
  }

  private async sum(schema: string, name: string): Promise<{ rows: number; checksum: string } | null> {
    const [here] = await this.database.query<{ is: string | null }>(`select to_regclass($1)::text is`, [
      `${schema}."${name}"`,
    ])
    if (here?.is == null) return null
    const [sum] = await this.database.query<{ rows: string; checksum: string }>(sumOf(`${schema}."${name}"`))
    return { rows: Number(sum!.rows), checksum: sum!.checksum }
  }

  /** Puts back what one add-on had: its state, tables, options and tasks; what it left behind where it is gone. All else stays. */
  async restorePart(id: number, slug: string): Promise<void> {
    await this.mustBe(id)
    const from = `snapshot_${id}`
    const [state] = await this.database.query(
      `select 1 from ${from}.loam_add_ons where slug = $1 union all select 1 from ${from}.loam_tables where owner = $1
       union all select 1 from ${from}.loam_options where owner = $1 union all select 1 from ${from}.loam_tasks where owner = $1
       union all select 1 from public.loam_cleared_blocks where owner = $1 union all select 1 from public.loam_files where owner = $1`,
      [slug],
    )
    if (!state)
      throw new Refusal(422, `Snapshot ${id} has nothing of ${JSON.stringify(slug)}.`, {
        problems: [{ at: '/addOn', expected: 'an owner of something that is in the snapshot' }],
      })
    await this.database.transaction(async (query) => {
      const tables = await query(`select name from ${from}.loam_tables where owner = $1`, [slug])
      for (const { name } of tables) {
        await query(`drop table if exists public."${name as string}" cascade`)
        await query(`create table public."${name as string}" (like ${from}."${name as string}" including all)`)
        await query(`insert into public."${name as string}" select * from ${from}."${name as string}"`)
      }
      for (const [table, column] of [
        ['loam_add_ons', 'slug'],
        ['loam_tables', 'owner'],
        ['loam_options', 'owner'],
        ['loam_tasks', 'owner'],
        ['loam_cleared_blocks', 'owner'],
        ['loam_files', 'owner'],
      ] as const) {
        await query(`delete from public.${table} where ${column} = $1`, [slug])
        const [has] = await query('select to_regclass($1) is not null is', [`${from}.${table}`])
        if (has!.is !== true) continue // a snapshot of a time before there was such a table
        await query(`insert into public.${table} select * from ${from}.${table} where ${column} = $1`, [slug])
      }
    })
  }

  private async mustBe(id: number): Promise<void> {
    if (!(await this.list()).some((snapshot) => snapshot.id === id))
      throw new Refusal(404, `There is no snapshot ${id}.`)
  }

  /** Puts every table back as it was. Tables that are newer than the snapshot go. */
  async restore(id: number): Promise<void> {
    await this.mustBe(id)
    await this.database.transaction(async (query) => {
      const names = async (schema: string) =>
        (
          await query(`select tablename from pg_tables where schemaname = $1 and tablename <> all($2)`, [
            schema,
            NOT_IN_IT,
          ])
        ).map((row) => row.tablename as string)
      for (const name of await names('public')) await query(`drop table public."${name}" cascade`)
      for (const name of await names(`snapshot_${id}`)) {
        await query(`create table public."${name}" (like snapshot_${id}."${name}" including all)`)
        await query(`insert into public."${name}" select * from snapshot_${id}."${name}"`)
      }
    })
  }
}

/** Rows and a checksum that does not depend on their order, in one pass and a line's memory. */
const sumOf = (table: string) =>
  `select count(*) rows, coalesce(sum(('x' || substr(md5(t::text), 1, 16))::bit(64)::bigint::numeric), 0)::text checksum from ${table} t`
