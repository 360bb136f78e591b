import { QueryTypes, type Sequelize } from 'sequelize'
import { keptView } from '../kept/kept-view.js'
import type { SweepRow } from '../sweep/sweep.model.js'

/** What PostgreSQL adds to each row: its header (23 bytes, aligned) and the pointer to it. */
const ROW_BYTES = 28
/** A row of `page_file`, with what PostgreSQL adds. */
const PAGE_FILE_BYTES = 76

/** Tables that hold something of each sweep, with their columns. */
async function sweepTables(sequelize: Sequelize): Promise<Map<string, string[]>> {
  const rows = await sequelize.query<{ table: string; column: string }>(
    `select held.table_name "table", c.column_name "column"
     from information_schema.columns held
     join information_schema.columns c on c.table_schema = held.table_schema and c.table_name = held.table_name
     join information_schema.tables t on t.table_schema = held.table_schema and t.table_name = held.table_name
     where held.table_schema = 'public' and held.column_name = 'sweep_id' and t.table_type = 'BASE TABLE'
       and held.table_name <> 'kept_view'
     order by 1, 2`,
    { type: QueryTypes.SELECT },
  )
  const tables = new Map<string, string[]>()
  for (const { table, column } of rows) tables.set(table, [...(tables.get(table) ?? []), column])
  return tables
}

/** What a sweep takes in the database as values are stored, indexes aside. Worked out once for each state of it. */
export async function bytesOfSweep(sequelize: Sequelize, sweep: SweepRow): Promise<number> {
  const { bytes } = await keptView(
    sequelize,
    sweep,
    'stored-bytes',
    async () => {
      let sum = 0
      for (const [table, columns] of await sweepTables(sequelize)) {
        const [row] = await sequelize.query<{ bytes: string }>(
          `select ${sizeOf(columns)} "bytes" from "${table}" where sweep_id = $1`,
          { bind: [sweep.id], type: QueryTypes.SELECT },
        )
        sum += Number(row!.bytes)
      }
      // What it shares with other sweeps counts for each.
      const [shared] = await sequelize.query<{ bytes: string }>(
        `select (select ${sizeOf(['content'])} from picture_bytes where id in (select bytes_id from picture where sweep_id = $1))
           + (select ${sizeOf(['used', 'later'])} from code_use where id in (select use_id from page_file where sweep_id = $1)) "bytes"`,
        { bind: [sweep.id], type: QueryTypes.SELECT },
      )
      return { bytes: sum + Number(shared!.bytes) }
    },
    String(sweep.thinnedAt?.getTime() ?? ''),
  )
  return bytes
}

/** What sweeps and rehearsals of a site share, as often as it is counted too many where each counts it. */
export async function countedTwice(sequelize: Sequelize, siteId: number): Promise<number> {
  const [row] = await sequelize.query<{ bytes: string }>(
    `with held as (
       select distinct sweep_id holder, bytes_id from picture where sweep_id in (select id from sweep where site_id = $1)
       union all select distinct 0, bytes_id from rehearsal_picture where rehearsal_id in (select id from rehearsal where site_id = $1)),
     used as (
       select distinct sweep_id holder, use_id from page_file
       where use_id is not null and sweep_id in (select id from sweep where site_id = $1))
     select (select coalesce(sum((holders - 1) * (${ROW_BYTES} + pg_column_size(content))), 0)
         from (select bytes_id, count(*) holders from held group by bytes_id) shared join picture_bytes on id = bytes_id)
       + (select coalesce(sum((holders - 1) * (${ROW_BYTES} + pg_column_size(used) + pg_column_size(later))), 0)
         from (select use_id, count(*) holders from used group by use_id) shared join code_use on id = use_id) "bytes"`,
    { bind: [siteId], type: QueryTypes.SELECT },
  )
  return Number(row!.bytes)
}

/** What goes of some sweeps of a site when only what they came to is kept: what others have too stays. */
export async function bytesOfReadings(sequelize: Sequelize, siteId: number, ids: readonly number[]): Promise<number> {
  const [row] = await sequelize.query<{ bytes: string }>(
    `select (select coalesce(sum(pg_column_size(detail)), 0) from reading where sweep_id = any($2::int[]))
       + (select coalesce(sum(${ROW_BYTES} + pg_column_size(content)), 0) from picture_bytes
          where id in (select bytes_id from picture where sweep_id = any($2::int[]))
            and not exists (select 1 from picture other where other.bytes_id = picture_bytes.id and other.sweep_id <> all($2::int[]))
            and not exists (select 1 from rehearsal_picture other where other.bytes_id = picture_bytes.id))
       + (select count(*) * ${PAGE_FILE_BYTES} from page_file where sweep_id = any($2::int[]) and requests is null)
       + (select coalesce(sum(${ROW_BYTES} + pg_column_size(used) + pg_column_size(later)), 0) from code_use
          where id in (select use_id from page_file where sweep_id in (select id from sweep where site_id = $1)
            group by use_id having bool_and(sweep_id = any($2::int[]))))
       + (select coalesce(sum(pg_column_size(packed)), 0) from prediction_groups where sweep_id = any($2::int[])) "bytes"`,
    { bind: [siteId, ids], type: QueryTypes.SELECT },
  )
  return Number(row!.bytes)
}

/** What the rehearsals of a site take, pictures and all. */
export async function bytesOfRehearsals(
  sequelize: Sequelize,
  siteId: number,
): Promise<{ count: number; bytes: number }> {
  const [row] = await sequelize.query<{ count: number; bytes: string }>(
    `select (select count(*)::int from rehearsal where site_id = $1) "count",
       coalesce((select sum(${ROW_BYTES} + pg_column_size(content)) from picture_bytes
                 where site_id = $1 and id in (select bytes_id from rehearsal_picture)), 0)
       + coalesce((select sum(pg_column_size(readings) + pg_column_size(guards)) from rehearsal_page
                   where rehearsal_id in (select id from rehearsal where site_id = $1)), 0) "bytes"`,
    { bind: [siteId], type: QueryTypes.SELECT },
  )
  return { count: row!.count, bytes: Number(row!.bytes) }
}

const sizeOf = (columns: readonly string[]) =>
  `coalesce(sum(${ROW_BYTES} + ${columns.map((column) => `coalesce(pg_column_size("${column}"), 0)`).join(' + ')}), 0)`
