/**
 * Puts in what pages' files cost and what was used of them, told by address and add-on, where the database keeps those by number.
 * @param tolls Rows as `file_toll` shows them. @param uses Rows as `file_use` shows them.
 */
export async function insertFiles(db, siteId, tolls, uses) {
  const told = async (name, rows) => {
    await db.query(`create temporary table told_${name} on commit drop as select * from file_${name} with no data`)
    await db.query(`insert into told_${name} select * from json_populate_recordset(null::told_${name}, $1)`, [
      JSON.stringify(rows),
    ])
  }
  await told('toll', tolls)
  await told('use', uses)
  for (const statement of STATEMENTS) await db.query(statement, [siteId])
  await db.query('drop table told_toll, told_use')
}

const STATEMENTS = [
  `insert into payer_key (site_id, slug)
     select distinct $1::int, payer from (select payer from told_toll union select payer from told_use) told on conflict do nothing`,
  `insert into file_address (site_id, url, type)
     select distinct $1::int, url, type from (select url, type from told_toll union select url, '' from told_use) told on conflict do nothing`,
  `insert into code_use (site_id, hash, used, later)
     select distinct on (hash) $1::int, md5(used::text || later::text)::uuid hash, used, later from told_use on conflict do nothing`,
  `insert into page_file
     select coalesce(t.sweep_id, u.sweep_id), coalesce(t.page_id, u.page_id), payer_key.id, file_address.id, t.requests,
       t.transfer_bytes, t.decoded_bytes, t.idle_bytes, t.main_thread_ms, u.bytes, code_use.id
     from (select *, row_number() over (partition by sweep_id, page_id, payer, url) nth from told_toll) t
     full join (select *, row_number() over (partition by sweep_id, page_id, payer, url) nth from told_use) u
       using (sweep_id, page_id, payer, url, nth) as named
     join payer_key on payer_key.site_id = $1 and slug = named.payer
     join file_address on file_address.site_id = $1 and md5(file_address.url) = md5(named.url) and file_address.type = coalesce(t.type, '')
     left join code_use on code_use.site_id = $1 and hash = md5(u.used::text || u.later::text)::uuid`,
]
