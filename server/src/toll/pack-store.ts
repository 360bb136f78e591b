import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import { isTime, MEASURES, packCells } from '@unvelt/contract'

const MOST = 2_147_483_647
const snake = (measure: string) => measure.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`)

/** Rows come to every aggregate in one order, so entry n of each column belongs together. */
const CELLS = `
  with tolls as materialized (select * from toll where sweep_id = $1 and variant = 'live'),
    pages as materialized (select page_id, (row_number() over () - 1)::int at from (select distinct page_id from tolls) ids),
    payers as materialized (select payer, (row_number() over () - 1)::int at from (select distinct payer from tolls) names)
  select (select array_agg(page_id order by at) from pages) pages, (select array_agg(payer order by at) from payers) payers,
    string_agg(int4send(pages.at), ''::bytea) page, string_agg(int4send(payers.at), ''::bytea) payer,
    ${MEASURES.map((measure) =>
      isTime(measure)
        ? `string_agg(float4send(${snake(measure)}::float4), ''::bytea) "${measure}"`
        : `string_agg(int4send(least(${snake(measure)}, ${MOST})::int), ''::bytea) "${measure}"`,
    ).join(', ')}
  from tolls join pages using (page_id) join payers using (payer)`

/** The cells of a sweep as columns of bytes. PostgreSQL puts the columns together itself. */
export async function packSweep(
  sequelize: Sequelize,
  sweepId: number,
  transaction: Transaction | null = null,
): Promise<Uint8Array> {
  const [row] = await sequelize.query<
    { pages: number[] | null; payers: string[] | null } & Record<string, Buffer | null>
  >(CELLS, { bind: [sweepId], type: QueryTypes.SELECT, transaction })
  const integers = (name: string) => new Int32Array(words32(row?.[name] ?? null))
  const values = Object.fromEntries(
    MEASURES.map((measure) => [
      measure,
      isTime(measure) ? new Float32Array(words32(row?.[measure] ?? null)) : integers(measure),
    ]),
  ) as Record<(typeof MEASURES)[number], Float32Array | Int32Array>
  return packCells({ pages: row?.pages ?? [], payers: row?.payers ?? [] }, integers('page'), integers('payer'), values)
}

/** Four-byte words as PostgreSQL sends them, in this machine's order, on a boundary that typed arrays can stand on. */
function words32(bytes: Buffer | null): ArrayBuffer {
  const copy = new ArrayBuffer(bytes?.length ?? 0)
  if (bytes) Buffer.from(copy).set(Buffer.from(bytes).swap32())
  return copy
}

/** A pack, and when it was made. */
export interface KeptPack {
  packed: Uint8Array
  madeAt: number
}

/** Any number, so that locks on packs are not taken for others. */
const LOCK = 4613

/**
 * Keeps the packed cells of a sweep that is over, so that the ledger need not put them together at every look. Waits for
 * tolls that are being written meanwhile, and lets none be written until it is kept.
 */
export async function keepPack(sequelize: Sequelize, sweepId: number): Promise<KeptPack> {
  return sequelize.transaction(async (transaction) => {
    await sequelize.query('select pg_advisory_xact_lock($1, $2)', { bind: [LOCK, sweepId], transaction })
    const packed = await packSweep(sequelize, sweepId, transaction)
    const [row] = await sequelize.query<{ at: Date }>(
      `insert into ledger_pack (sweep_id, packed) values ($1, $2)
       on conflict (sweep_id) do update set packed = excluded.packed, made_at = clock_timestamp() returning made_at "at"`,
      {
        bind: [sweepId, Buffer.from(packed.buffer, packed.byteOffset, packed.byteLength)],
        type: QueryTypes.SELECT,
        transaction,
      },
    )
    return { packed, madeAt: row!.at.getTime() }
  })
}

/** To be called where tolls of a sweep are written, in the same transaction: what was packed holds no longer. */
export async function dropPack(sequelize: Sequelize, sweepId: number, transaction: Transaction): Promise<void> {
  await sequelize.query('select pg_advisory_xact_lock_shared($1, $2)', { bind: [LOCK, sweepId], transaction })
  await sequelize.query('delete from ledger_pack where sweep_id = $1', { bind: [sweepId], transaction })
}

/** When the kept pack of a sweep was made; null where there is none. */
export async function packMadeAt(sequelize: Sequelize, sweepId: number): Promise<number | null> {
  const [row] = await sequelize.query<{ at: Date }>('select made_at "at" from ledger_pack where sweep_id = :sweepId', {
    replacements: { sweepId },
    type: QueryTypes.SELECT,
  })
  return row?.at.getTime() ?? null
}

export async function keptPack(sequelize: Sequelize, sweepId: number): Promise<KeptPack | null> {
  const [row] = await sequelize.query<{ packed: Buffer; at: Date }>(
    'select packed, made_at "at" from ledger_pack where sweep_id = :sweepId',
    { replacements: { sweepId }, type: QueryTypes.SELECT },
  )
  return row ? { packed: row.packed, madeAt: row.at.getTime() } : null
}
