import type { Sequelize } from 'sequelize'

/** How pages answered when a snapshot was made, so that putting it back can be proved by them. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table page_answer (
      site_id integer not null references site on delete cascade,
      snapshot_id integer not null,
      page_id integer not null references page on delete cascade,
      parts bytea not null,
      primary key (site_id, snapshot_id, page_id)
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table page_answer')
}
