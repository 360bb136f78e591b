import type { Sequelize } from 'sequelize'

/** A sweep that came from a file was made through no lens of ours. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table sweep alter column lens_id drop not null')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`delete from sweep where lens_id is null; alter table sweep alter column lens_id set not null`)
}
