import type { Sequelize } from 'sequelize'

/** What each page of a sweep is spared by whichever payers go, worked out when its tolls are. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table prediction_groups (
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      packed bytea not null,
      made_at timestamptz not null default clock_timestamp(),
      primary key (sweep_id, page_id)
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table prediction_groups')
}
