import type { Sequelize } from 'sequelize'

/** What was promised of a change, to be held against what was measured: page path → measure → what it was to spare. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table deployment add column prediction jsonb;
    alter table proof add column prediction jsonb;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table deployment drop column prediction')
  await sequelize.query('alter table proof drop column prediction')
}
