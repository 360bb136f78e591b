import type { Sequelize } from 'sequelize'

/** Whether any reading of a page gave times. In a sweep under way they come after all else. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table sweep_page add column timed boolean not null default true')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    update sweep_page set state = 'waiting' where state = 'begun';
    alter table sweep_page drop column timed;
  `)
}
