import type { Sequelize } from 'sequelize'

/** Pictures of sweeps are kept in another format than they were taken in. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table picture_bytes rename column jpeg to content')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table picture_bytes rename column content to jpeg')
}
