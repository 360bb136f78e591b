import type { Sequelize } from 'sequelize'

/** A page that has not changed looks the same sweep after sweep, and in every reading of a rehearsal: its picture is kept once. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table picture_bytes (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      hash bytea not null,
      jpeg bytea not null,
      unique (hash, site_id));
    ${[
      ['picture', 'sweep'],
      ['rehearsal_picture', 'rehearsal'],
    ]
      .map(
        ([table, of]) => `
      insert into picture_bytes (site_id, hash, jpeg)
        select distinct on (site_id, sha256(jpeg)) site_id, sha256(jpeg), jpeg from ${table} join ${of} on ${of}.id = ${of}_id
        on conflict do nothing;
      alter table ${table} add column bytes_id integer references picture_bytes;
      update ${table} set bytes_id = picture_bytes.id from picture_bytes, ${of}
        where ${of}.id = ${of}_id and picture_bytes.site_id = ${of}.site_id and hash = sha256(${table}.jpeg);
      alter table ${table} alter column bytes_id set not null, drop column jpeg;
      create index ${table}_of_bytes on ${table} (bytes_id);`,
      )
      .join('\n')}
    -- What sweeps take was counted as all of it was kept before.
    delete from kept_view where view = 'stored-bytes'`)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    ${['picture', 'rehearsal_picture']
      .map(
        (table) => `
      alter table ${table} add column jpeg bytea;
      update ${table} set jpeg = picture_bytes.jpeg from picture_bytes where picture_bytes.id = bytes_id;
      alter table ${table} alter column jpeg set not null, drop column bytes_id;`,
      )
      .join('\n')}
    drop table picture_bytes`)
}
