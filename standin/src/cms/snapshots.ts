import type { Database } from './database.js'
import { Refusal } from './refusal.js'

export interface Snapshot {
  id: number
  name: string
  madeAt: string
  bytes: number
}

const MOST_SNAPSHOTS = 20
/** The rules' history only grows, and the snapshots' own list is not part of what it lists. */
const NOT_IN_IT = ['unvelt_rules', 'loam_snapshots']

/** Copies of every table of the site, in a schema each. */
export class Snapshots {
  constructor(private readonly database: Database) {}

  async setUp(): Promise<void> {
    await this.database.query(
      'create table if not exists loam_snapshots (id serial primary key, name text not null, made_at timestamptz not null default now())',
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
        }
      })
    } catch (error) {
      await this.database.query('delete from loam_snapshots where id = $1', [id])
      throw error
    }
    return (await this.list()).find((snapshot) => snapshot.id === id)!
  }

  /** Puts every table back as it was. Tables that are newer than the snapshot go. */
  async restore(id: number): Promise<void> {
    if (!(await this.list()).some((snapshot) => snapshot.id === id))
      throw new Refusal(404, `There is no snapshot ${id}.`)
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
