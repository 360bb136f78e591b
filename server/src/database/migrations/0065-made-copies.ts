import type { Sequelize } from 'sequelize'

/** Copies that were made of a site's own files, to be served in their place. Rules name them by the hash of what is in them. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table made_copy (
      site_id integer not null references site on delete cascade,
      content text not null,
      "from" text not null,
      address text not null,
      addon text not null,
      file text not null,
      body bytea not null,
      lighter_by jsonb not null,
      left_out integer not null,
      made_at timestamptz not null default now(),
      primary key (site_id, content, file));
    select watch_changes('made_copy')`)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table made_copy')
}
