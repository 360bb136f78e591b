import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table site add column least_difference double precision not null default 0.01')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table site drop column least_difference')
}
