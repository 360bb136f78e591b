import type { Sequelize } from 'sequelize'

/** What was tidied up at sites: what the CMS kept for nobody, and air in tables. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table tidying (
      id serial primary key,
      site_id integer not null references site on delete cascade,
      name text not null,
      wish jsonb not null,
      rows_before integer,
      snapshot_id integer,
      state text not null default 'running' check (state in ('running', 'done', 'failed')),
      said text,
      who text not null default '',
      asked_at timestamptz not null default clock_timestamp(),
      finished_at timestamptz
    );
    create unique index tidying_under_way on tidying (site_id) where state = 'running';
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table tidying')
}
