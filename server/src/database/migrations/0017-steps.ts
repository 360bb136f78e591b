import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table site add column steps jsonb')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table site drop column steps')
}
