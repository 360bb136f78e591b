import type { Sequelize } from 'sequelize'

const MOST = 2_147_483_647
/** `least` takes what is not known for the larger one. */
const capped = (column: string) => `case when ${column} is not null then least(${column}, ${MOST}) end`

/**
 * What a page's files cost and what it used of them is one row a file: the same addresses, add-ons and used parts stand on page after
 * page, and are kept once. Both are still read as `file_toll` and `file_use`.
 *
 * The rows of `page_file` name those by number without foreign keys: all go with their sweep, and each key would need an index
 * as large as what it points from.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table payer_key (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      slug text not null,
      unique (slug, site_id));
    create table file_address (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      url text not null,
      type text not null);
    -- An address may be longer than what an index takes.
    create unique index file_address_of on file_address (md5(url), type, site_id);
    create table code_use (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      hash uuid not null,
      used int4multirange not null,
      later int4multirange not null,
      unique (hash, site_id));
    create table page_file (
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      payer_id integer not null,
      file_id integer not null,
      requests integer,
      transfer_bytes integer,
      decoded_bytes integer,
      idle_bytes integer,
      main_thread_ms real,
      code_bytes integer,
      use_id integer,
      check ((requests is null) = (transfer_bytes is null)),
      check ((code_bytes is null) = (use_id is null)));

    alter table file_toll rename to old_toll;
    alter table file_use rename to old_use;
    insert into payer_key (site_id, slug)
      select distinct site_id, payer from (select sweep_id, payer from old_toll union select sweep_id, payer from old_use) told
      join sweep on sweep.id = sweep_id;
    insert into file_address (site_id, url, type)
      select distinct site_id, url, type from (select sweep_id, url, type from old_toll union select sweep_id, url, '' from old_use) told
      join sweep on sweep.id = sweep_id;
    insert into code_use (site_id, hash, used, later)
      select distinct site_id, md5(used::text || later::text)::uuid, used, later from old_use join sweep on sweep.id = sweep_id;
    insert into page_file
      select coalesce(t.sweep_id, u.sweep_id), coalesce(t.page_id, u.page_id), payer_key.id, file_address.id, t.requests,
        ${capped('t.transfer_bytes')}, ${capped('t.decoded_bytes')}, ${capped('t.idle_bytes')}, t.main_thread_ms,
        ${capped('u.bytes')}, code_use.id
      from (select *, row_number() over (partition by sweep_id, page_id, payer, url) nth from old_toll) t
      full join (select *, row_number() over (partition by sweep_id, page_id, payer, url) nth from old_use) u
        using (sweep_id, page_id, payer, url, nth) as named
      join sweep on sweep.id = sweep_id
      join payer_key on payer_key.site_id = sweep.site_id and slug = payer
      join file_address on file_address.site_id = sweep.site_id and md5(file_address.url) = md5(named.url) and file_address.type = coalesce(t.type, '')
      left join code_use on code_use.site_id = sweep.site_id and hash = md5(u.used::text || u.later::text)::uuid;
    drop table old_toll;
    drop table old_use;

    create index page_file_of_page on page_file (sweep_id, page_id);
    create index page_file_of_payer on page_file (sweep_id, payer_id);
    create view file_toll as
      select sweep_id, page_id, slug payer, url, type, requests, transfer_bytes::bigint, decoded_bytes::bigint, idle_bytes::bigint,
        main_thread_ms::double precision
      from page_file join payer_key on payer_key.id = payer_id join file_address on file_address.id = file_id
      where requests is not null;
    create view file_use as
      select sweep_id, page_id, url, code_bytes::bigint bytes, slug payer, used, later
      from page_file join payer_key on payer_key.id = payer_id join file_address on file_address.id = file_id
        join code_use on code_use.id = use_id;
    select watch_changes('page_file')`)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter view file_toll rename to new_toll;
    alter view file_use rename to new_use;
    create table file_toll as select * from new_toll;
    alter table file_toll add foreign key (sweep_id) references sweep on delete cascade, add foreign key (page_id) references page on delete cascade;
    create index on file_toll (sweep_id, page_id);
    create index on file_toll (sweep_id, payer);
    create table file_use as select * from new_use;
    alter table file_use add foreign key (sweep_id) references sweep on delete cascade, add foreign key (page_id) references page on delete cascade;
    create index on file_use (sweep_id, page_id);
    drop view new_toll;
    drop view new_use;
    drop table page_file, payer_key, file_address, code_use;
    select watch_changes('file_toll'), watch_changes('file_use')`)
}
