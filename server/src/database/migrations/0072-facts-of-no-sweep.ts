import type { Sequelize } from 'sequelize'

/** What no sweep has seen is found without going through what all sweeps of years have seen. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('create index use_fact_of_no_sweep on use_fact (site_id) where sweep_id is null')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop index use_fact_of_no_sweep')
}
