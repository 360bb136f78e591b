import type { Sequelize } from 'sequelize'

/** A change may go live on one page of each kind first. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table deployment add parts jsonb')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table deployment drop parts')
}
