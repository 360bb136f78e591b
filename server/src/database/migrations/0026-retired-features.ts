import type { Sequelize } from 'sequelize'

/** Retirements of some features of an add-on that stays. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table retirement add column features jsonb')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(
    'delete from retirement where features is not null; alter table retirement drop column features',
  )
}
