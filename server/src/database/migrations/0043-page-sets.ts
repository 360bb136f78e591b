import type { Sequelize } from 'sequelize'

/** Pages that have a name together, so that rules can say it. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table page_set (
      id serial primary key,
      site_id integer not null references site on delete cascade,
      name text not null,
      note text not null default '',
      paths jsonb not null,
      changed_at timestamptz not null default clock_timestamp(),
      unique (site_id, name)
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table page_set')
}
