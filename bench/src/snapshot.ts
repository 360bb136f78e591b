// A snapshot of many megabytes at the stand-in, made and verified, beside plainly copying the same table and summing it up twice in
// the same database; and what the stand-in's memory grew by meanwhile.
//   npm run bench -- snapshot [megabytes] [rounds]
import { readFileSync } from 'node:fs'
import { request } from 'node:http'
import pg from 'pg'
import { median } from '@unvelt/core'

const MEGABYTES = Number(process.argv[2] ?? 1_024)
const ROUNDS = Number(process.argv[3] ?? 3)
const KEPT_CHARACTERS = 4_000
const site = new URL(process.env.STANDIN_URL!)
const key = process.env.STANDIN_KEY!

/** Node does not resolve the site's name, so it is given as `Host`. */
const ask = <T>(method: string, path: string, body?: object): Promise<T> =>
  new Promise((resolve, reject) => {
    const headers = { host: site.host, authorization: `Bearer ${key}`, 'content-type': 'application/json' }
    const asked = request(
      { host: '127.0.0.1', port: site.port, path: `/unvelt/v1${path}`, method, headers },
      async (response) => {
        const text = Buffer.concat(await response.toArray()).toString()
        if (response.statusCode! < 300) resolve(JSON.parse(text) as T)
        else reject(new Error(`${method} ${path}: ${response.statusCode} ${text.slice(0, 200)}`))
      },
    )
    asked.once('error', reject)
    asked.end(body && JSON.stringify(body))
  })

/** Resident memory of the stand-in, MB. */
const memory = () =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${process.env.STANDIN_PID!}/status`, 'utf8'))![1]) / 1_024

const timed = async (run: () => Promise<unknown>): Promise<number> => {
  const began = performance.now()
  await run()
  return performance.now() - began
}

const client = new pg.Client({ connectionString: process.env.STANDIN_DATABASE_URL! })
await client.connect()
const query = (text: string) => client.query(text)
const sum = (table: string) =>
  query(
    `select count(*), coalesce(sum(('x' || substr(md5(t::text), 1, 16))::bit(64)::bigint::numeric), 0) from ${table} t`,
  )
// Random letters, which the database can't pack.
await query('create table bulk (id integer primary key, words text not null)')
await query(`alter table bulk alter column words set storage external`)
const rows = Math.ceil((MEGABYTES * 1_048_576) / KEPT_CHARACTERS)
await query(
  `insert into bulk select g, (select string_agg(md5(random()::text || g || n), '') from generate_series(1, ${KEPT_CHARACTERS / 32}) n)
   from generate_series(1, ${rows}) g`,
)
const {
  rows: [size],
} = (await query(`select pg_total_relation_size('bulk') bytes`)) as { rows: { bytes: string }[] }
console.log(`table of ${(Number(size!.bytes) / 1_048_576).toFixed(0)} MB, ${rows} rows`)

const ratios: number[] = []
const before = memory()
let most = before
const watch = setInterval(() => (most = Math.max(most, memory())), 50)
for (let round = 1; round <= ROUNDS; round++) {
  const plain = async () => {
    await query('create table bulk_copy (like bulk including all)')
    await query('insert into bulk_copy select * from bulk')
    await sum('bulk')
    await sum('bulk_copy')
    await query('drop table bulk_copy')
  }
  const ours = async () => {
    const { id } = await ask<{ id: number }>('POST', '/snapshots', { name: `round ${round}` })
    const { parts } = await ask<{ parts: { name: string; sound: boolean; now: { same: boolean } | null }[] }>(
      'GET',
      `/snapshots/${id}`,
    )
    const bulk = parts.find(({ name }) => name === 'bulk')
    if (!bulk?.sound || !bulk.now?.same) throw new Error('the snapshot does not verify')
    await query(`drop schema snapshot_${id} cascade`)
    await query(`delete from loam_snapshots where id = ${id}`)
  }
  // Whoever is first finds other things in memory, so they take turns in being it.
  const [first, second] = round % 2 ? [plain, ours] : [ours, plain]
  const [a, b] = [await timed(first), await timed(second)]
  const [copying, snapshot] = round % 2 ? [a, b] : [b, a]
  ratios.push(copying / snapshot)
  console.log(
    `round ${round}: plain copying ${(copying / 1000).toFixed(1)} s, snapshot ${(snapshot / 1000).toFixed(1)} s`,
  )
}
clearInterval(watch)
await client.end()
console.log(`memory of the stand-in: ${before.toFixed(0)} MB before, ${most.toFixed(0)} MB at most`)
console.log(`snapshot ratio=${median(ratios).toFixed(3)} goal=0.7`)
