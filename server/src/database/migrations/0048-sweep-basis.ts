import type { Sequelize } from 'sequelize'

/** A sweep may read again just what is stale, and take over the rest from the one before. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(
    'alter table sweep add basis_id integer references sweep on delete set null, add taken_over integer',
  )
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table sweep drop basis_id, drop taken_over')
}
