import type { Sequelize } from 'sequelize'

/** Pages of which the largest picture is asked for later than it could be, as each was read. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table late_paint (
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      url text not null,
      payer text not null,
      file text not null,
      because text not null check (because in ('waits', 'style', 'script', 'turn')),
      could_ms real not null,
      asked_ms real not null,
      painted_ms real not null,
      primary key (sweep_id, page_id));
    select watch_changes('late_paint')`)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table late_paint')
}
