// What of 20 stylesheets 2,000 pages use nowhere, over two sweeps: the ranges united in the database and held against the rules,
// beside reading the same rows plainly.
import { median, usedNowhere } from '@unvelt/core'
import { connect, filesLookedFor } from '@unvelt/server'
import { call, pause, start } from './lib/own-unvelt.js'

const PAGES = 2_000
const STYLES = 20
const SWEEPS = 2
const RULES = 400
const ROUNDS = 5

const server = start('main.js')
const database = await connect(process.env.DATABASE_URL!)
const sql = async (text: string) => (await database.query(text))[0] as { used: string; later: string }[]
const RULE = (n: number) => `.part-${String(n).padStart(4, '0')} { margin: 1px 2px 3px; color: #123456 }\n`
const WIDTH = RULE(0).length
const css = Array.from({ length: RULES }, (_, n) => RULE(n)).join('')

try {
  while (!(await call('GET', '/health').catch(() => null))) await pause(100)
  await fill()
  const plain: number[] = []
  const ours: number[] = []
  let rows = 0
  let rules = 0
  for (let round = 0; round < ROUNDS; round++) {
    let began = performance.now()
    rows = (await sql(`select url, used::text, later::text from file_use where sweep_id <= ${SWEEPS}`)).length
    plain.push(performance.now() - began)
    began = performance.now()
    const styles = await filesLookedFor(database, SWEEPS, 'style')
    rules = styles.reduce((sum, { used }) => sum + usedNowhere(css, used).length, 0)
    ours.push(performance.now() - began)
  }
  const [a, b] = [median(plain), median(ours)]
  console.log(
    `${rows} rows read plainly in ${a.toFixed(0)} ms; ${rules} of ${STYLES * RULES} rules found to be used nowhere in ${b.toFixed(0)} ms`,
  )
  console.log(`used-nowhere ratio=${(b / a).toFixed(2)} goal=3`)
} finally {
  await database.close()
  server.kill('SIGINT')
}

/** Each page uses a tenth of each stylesheet, mostly the same tenth. */
async function fill(): Promise<void> {
  await sql(
    `insert into site (address, name, cms, local) values ('http://large.localhost', 'Large site', '{"name":"","version":""}', true)`,
  )
  await sql(`insert into lens (site_id, name, settings) select 1, 'Desk', '{"visitor":{"kind":"signed-out"}}'`)
  await sql(`insert into page (site_id, path, title, kind, area, position)
    select 1, '/page-' || n, 'Page ' || n, 'page', 'public', n from generate_series(1, ${PAGES}) n`)
  await sql(`insert into sweep (site_id, lens_id, purpose, status, repeats, variants, sources, finished_at)
    select 1, 1, 'survey', 'done', 1, '[{"name":"live","rules":"live"}]', '{}', now() from generate_series(1, ${SWEEPS})`)
  await sql(`insert into payer_key (site_id, slug) select 1, 'add-on-' || n from generate_series(1, ${STYLES}) n`)
  await sql(`insert into file_address (site_id, url, type)
    select 1, 'https://large.localhost/' || n || '.css', 'style' from generate_series(1, ${STYLES}) n`)
  // Three kinds of pages, each with its own parts of a file.
  await sql(`insert into code_use (site_id, hash, used, later)
    select 1, md5(n || '/' || kind)::uuid, (
      select range_agg(int4range(rule * ${WIDTH}, (rule + 1) * ${WIDTH} - 1))
      from (select (n * 7 + k * 10 + kind) % ${RULES} rule from generate_series(0, ${RULES / 10 - 1}) k) rules), '{}'
    from generate_series(1, ${STYLES}) n cross join generate_series(0, 2) kind`)
  await sql(`insert into page_file
    select sweep.id, page.id, payer_key.id, file_address.id, 1, 9000, ${css.length}, 0, 0, ${css.length}, code_use.id
    from sweep cross join page cross join generate_series(1, ${STYLES}) n
    join payer_key on slug = 'add-on-' || n
    join file_address on url = 'https://large.localhost/' || n || '.css'
    join code_use on hash = md5(n || '/' || (page.id % 3))::uuid`)
  await sql('analyze')
}
