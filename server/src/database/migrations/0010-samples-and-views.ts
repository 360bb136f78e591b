import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table page add column imported_views integer;
    alter table sweep add column sample jsonb;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table page drop column imported_views; alter table sweep drop column sample')
}
