// A proof of 200 pages × 14 measures × 10 readings, opened: beside only fetching its readings from the database and writing them out as
// JSON. And the list that tells of it.
import pg from 'pg'
import { median, seeded } from '@unvelt/core'
import { call, pause, start } from './lib/own-unvelt.js'

const PAGES = 200
const REPEATS = 5
const ROUNDS = 11

const random = seeded(20261130)
const about = (value: number) => value * (0.9 + 0.2 * random())
const running = [start('main.js')]
const client = new pg.Client({ connectionString: process.env.DATABASE_URL! })

try {
  while (!(await call('GET', '/health').catch(() => null))) await pause(200)
  const { id: site } = await call<{ id: number }>('POST', '/sites', {
    address: process.env.STANDIN_URL!,
    connectorKey: process.env.STANDIN_KEY!,
    local: true,
  })
  await client.connect()
  const one = async <T>(text: string, values: unknown[]) => (await client.query(text, values)).rows[0] as T
  const lens = await one<{ id: number }>('select id from lens where site_id = $1 order by id limit 1', [site])
  const sweep = await one<{ id: number }>(
    `insert into sweep (site_id, lens_id, purpose, status, repeats, variants, sources, finished_at)
     values ($1, $2, 'proof', 'done', $3, $4, '{}', now()) returning id`,
    [
      site,
      lens.id,
      REPEATS,
      JSON.stringify([
        { name: 'before', rules: 0 },
        { name: 'after', rules: 1 },
      ]),
    ],
  )
  for (let n = 0; n < PAGES; n++) {
    const page = await one<{ id: number }>(
      `insert into page (site_id, path, title, kind, area, position) values ($1, $2, $2, 'page', 'public', $3) returning id`,
      [site, `/bench-${n}`, 1_000 + n],
    )
    await client.query('insert into sweep_page (sweep_id, page_id, state) values ($1, $2, $3)', [
      sweep.id,
      page.id,
      'done',
    ])
    for (const [variant, share] of [
      ['before', 1],
      ['after', 0.9],
    ] as const)
      for (let repeat = 1; repeat <= REPEATS; repeat++)
        await client.query(
          `insert into reading (sweep_id, page_id, variant, repeat, requests, transfer_bytes, decoded_bytes, server_ms, queries,
           query_ms, load_ms, figures) values ($1, $2, $3, $4, $5, $6, $7, $8, 40, $9, $10, $11)`,
          [
            sweep.id,
            page.id,
            variant,
            repeat,
            Math.round(150 * share),
            Math.round(480_000 * share),
            Math.round(2e6 * share),
            about(800 * share),
            about(600 * share),
            about(2_500 * share),
            JSON.stringify({
              mainThreadMs: about(150 * share),
              blockingMs: about(40),
              elements: 900,
              outsiders: 12,
              errors: 0,
              firstByteMs: about(300),
              firstPaintMs: about(700),
              largestPaintMs: about(1_500 * share),
            }),
          ],
        )
  }
  const proof = await one<{ id: number }>(
    `insert into proof (site_id, sweep_id, title, from_version, to_version) values ($1, $2, 'bench', 0, 1) returning id`,
    [site, sweep.id],
  )
  const timed = async (run: () => Promise<unknown>) => {
    const began = performance.now()
    await run()
    return performance.now() - began
  }
  const opened: number[] = []
  const listed: number[] = []
  const bare: number[] = []
  for (let round = 0; round < ROUNDS; round++) {
    opened.push(await timed(() => call('GET', `/proofs/${proof.id}`)))
    listed.push(await timed(() => call('GET', `/sites/${site}/proofs`)))
    bare.push(
      await timed(async () => {
        const { rows } = await client.query(
          `select page_id, variant, repeat, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms, load_ms, figures
           from reading where sweep_id = $1 and failure is null order by page_id, repeat`,
          [sweep.id],
        )
        if (rows.length !== PAGES * 2 * REPEATS) throw new Error('the readings are not all there')
        return JSON.stringify(rows).length
      }),
    )
  }
  const [open, list, least] = [opened, listed, bare].map(median) as [number, number, number]
  console.log(
    `${PAGES} pages, ${2 * REPEATS} readings each: opened in ${open.toFixed(0)} ms, its readings alone in ${least.toFixed(0)} ms; the list in ${list.toFixed(0)} ms (medians of ${ROUNDS})`,
  )
  console.log(`proof ratio=${(open / least).toFixed(2)} goal=10`)
} finally {
  await client.end().catch(() => {})
  for (const child of running.reverse()) child.kill('SIGTERM')
}
