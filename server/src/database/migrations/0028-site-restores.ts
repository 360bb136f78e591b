import type { Sequelize } from 'sequelize'

/** What was put back from a site's snapshots. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table site_restore (
      id serial primary key,
      site_id integer not null references site on delete cascade,
      snapshot_id integer not null,
      snapshot_name text not null,
      add_on text,
      state text not null default 'running' check (state in ('running', 'done', 'failed')),
      said text,
      who text not null default '',
      asked_at timestamptz not null default clock_timestamp(),
      finished_at timestamptz
    );
    create unique index site_restore_under_way on site_restore (site_id) where state = 'running';
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table site_restore')
}
