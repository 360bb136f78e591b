import type { Sequelize } from 'sequelize'

/** What decides what any effect spares a page, kept when the page is read; packed already, so PostgreSQL leaves it as it is. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table prediction_groups add bases bytea;
    alter table prediction_groups alter bases set storage external, alter packed set storage external;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table prediction_groups drop bases')
}
