import type { Sequelize } from 'sequelize'

/** What a site that is closed to the public lets Unvelt in by, sealed. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table site add column access text')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table site drop column access')
}
