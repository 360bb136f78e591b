const KINDS = 12

/**
 * A site with one sweep as a large one has it, beside those that are there; the figures are drawn, since only their number matters
 * here. Its numbers follow on: the first site has site, lens and sweep 1, the second 2.
 */
export async function fillLargeSite(
  sql: (text: string) => Promise<unknown>,
  { addOns, pages, n = 1 }: { addOns: number; pages: number; n?: number },
): Promise<void> {
  await sql(`insert into site (address, name, cms, connector, local)
    values ('http://large-${n}.localhost', 'Large site', '{"name":"Loam","version":"1"}',
      '{"protocol":"unvelt-connector/1","name":"Large","base":"/u","ownHosts":[],"effects":["skip"],"caches":[]}', true)`)
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
  await sql('analyze')
}
