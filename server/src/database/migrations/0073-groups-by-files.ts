import type { Sequelize } from 'sequelize'

/** Groups tell files apart now. Those of pages read before are made of their readings once somebody asks for them. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('truncate prediction_groups')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('truncate prediction_groups')
}
