import { QueryTypes, type Sequelize } from 'sequelize'
import { NO_SOURCES, seeded } from '@unvelt/core'
import { groupsOf, storeGroups } from '@unvelt/server'
import { madeUpReading } from './made-up-reading.js'

const KINDS = 12

/**
 * A site with one sweep as a large one has it, beside those that are there; the figures are drawn, since only their number matters
 * here. Its numbers follow on: the first site has site, lens and sweep 1, the second 2.
 */
export async function fillLargeSite(
  database: Sequelize,
  { addOns, pages, n = 1, drafts = true }: { addOns: number; pages: number; n?: number; drafts?: boolean },
): Promise<void> {
  const sql = (text: string) => database.query(text)
  await sql(`insert into site (address, name, cms, connector, local)
    values ('http://large-${n}.localhost', 'Large site', '{"name":"Loam","version":"1"}',
      '{"protocol":"unvelt-connector/1","name":"Large","base":"/u","ownHosts":[],"effects":["skip","leave-out","hold","order"],"caches":[]}', true)`)
  await sql(`insert into lens (site_id, name, settings) select ${n}, 'Desk', '{"visitor":{"kind":"signed-out"}}'`)
  await sql(`insert into page (site_id, path, title, kind, area, position, views)
    select ${n}, '/page-' || n, 'Page number ' || n, 'kind ' || n % ${KINDS}, 'public', n, (n * 7919) % 5000 from generate_series(1, ${pages}) n`)
  await sql(`insert into add_on (site_id, slug, kind, name, source, can_skip)
    select ${n}, 'add-on-' || n, (array['plugin','widget','font','outside script','snippet'])[n % 5 + 1], 'Add-on ' || n, 'connector', true
    from generate_series(1, ${addOns}) n`)
  await sql(`insert into sweep (site_id, lens_id, purpose, status, repeats, variants, sources, finished_at)
    select ${n}, ${n}, 'survey', 'done', 3, '[{"name":"live","rules":"live"}]', '{}', now()`)
  // Some were updated since.
  await sql(`update sweep set inventory = (select jsonb_agg(jsonb_build_object('slug', slug, 'name', name, 'kind', kind,
      'version', case when id % 15 = 0 then 'before' else version end, 'active', true, 'featuresOn', 0))
    from add_on where site_id = ${n}) where id = ${n}`)
  await sql(`insert into reading (sweep_id, page_id, variant, repeat, requests, transfer_bytes, decoded_bytes, load_ms)
    select ${n}, page.id, 'live', repeat, 1200, 13000000, 45000000, 900 + (page.id * repeat * 31) % 400
    from page cross join generate_series(0, 2) repeat where site_id = ${n}`)
  await sql(`insert into sweep_page select ${n}, id, 'done' from page where site_id = ${n}`)
  await sql(`insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, idle_bytes, main_thread_ms, server_ms, queries, query_ms)
    select ${n}, page.id, 'live', slug, 1 + (page.id + add_on.id) % 7, (page.id * add_on.id * 31) % 90000, (page.id * add_on.id * 67) % 300000,
      (page.id * add_on.id * 13) % 90000, (page.id * add_on.id) % 40, (page.id + add_on.id) % 30, (page.id * add_on.id) % 5, 1
    from page join add_on using (site_id) where site_id = ${n}`)
  await sql(`insert into use_fact (site_id, page_id, slug, source, word, because)
    select ${n}, page.id, slug, 'connector', 'used', 'a block' from page join add_on using (site_id)
    where site_id = ${n} and (page.id * 31 + add_on.id) % 50 = 0`)
  await fillPredictions(database, n, addOns)
  if (drafts) await fillDrafts(sql, n)
  await sql('analyze')
}

/** What effects spare a page is drawn for one page of each kind, and the same on all others of it. */
async function fillPredictions(database: Sequelize, n: number, addOns: number): Promise<void> {
  const names = Array.from({ length: addOns }, (_, at) => `add-on-${at + 1}`)
  const host = `large-${n}.localhost`
  const sources = {
    ...NO_SOURCES,
    ownHosts: [host],
    prefixes: names.map((addon) => ({ prefix: `/add-ons/${addon}/`, addon })),
  }
  await database.query('update sweep set sources = $2 where id = $1', { bind: [n, JSON.stringify(sources)] })
  const firsts = await database.query<{ id: number; kind: string }>(
    `select distinct on (kind) id, kind from page where site_id = ${n} order by kind, position`,
    { type: QueryTypes.SELECT },
  )
  const random = seeded(20261201)
  for (const { id, kind } of firsts) {
    const reading = madeUpReading(`http://${host}/page-${id}`, names, random)
    await storeGroups(database, { sweepId: n, pageId: id }, groupsOf([reading, reading], sources))
    await database.query(
      `insert into prediction_groups (sweep_id, page_id, packed)
       select sweep_id, page.id, packed from prediction_groups join page on site_id = $1 and kind = $2 and page.id <> page_id
       where sweep_id = $1 and page_id = $3`,
      { bind: [n, kind, id] },
    )
  }
}

/** Broad ones: one goes, one waits, and of one a single file waits. */
async function fillDrafts(sql: (text: string) => Promise<unknown>, n: number): Promise<void> {
  const drafts = [
    { addon: 'add-on-1', effect: 'leave-out' },
    { addon: 'add-on-4', effect: 'hold', until: 'input' },
    { addon: 'add-on-7', effect: 'order', order: 'end', file: '/add-ons/add-on-7/main.js' },
  ]
  for (const draft of drafts)
    await sql(`insert into draft (id, site_id, rule)
      select id, ${n}, '${JSON.stringify({ ...draft, place: { level: 'everywhere' } })}'::jsonb || jsonb_build_object('id', id)
      from (select gen_random_uuid() id) new`)
}
