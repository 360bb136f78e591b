import type { Sequelize } from 'sequelize'

/** Steps that are played on a page because somebody wants to know whether they still work. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table reading_on_demand drop constraint reading_on_demand_kind_check;
    alter table reading_on_demand add constraint reading_on_demand_kind_check
      check (kind in ('server', 'without', 'actions', 'steps'));
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    delete from reading_on_demand where kind = 'steps';
    alter table reading_on_demand drop constraint reading_on_demand_kind_check;
    alter table reading_on_demand add constraint reading_on_demand_kind_check
      check (kind in ('server', 'without', 'actions'));
  `)
}
