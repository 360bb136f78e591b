import type { Sequelize } from 'sequelize'

/** How a picture looked of which something could be spared, and the address at which one that looks the same has come since. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table weight_promise add column looks jsonb, add column come_as text')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table weight_promise drop column looks, drop column come_as')
}
