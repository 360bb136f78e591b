import type { Sequelize } from 'sequelize'

/** What could be done on the pages of a site is looked for on demand. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table reading_on_demand drop constraint reading_on_demand_kind_check;
    alter table reading_on_demand add constraint reading_on_demand_kind_check
      check (kind in ('server', 'without', 'actions', 'steps', 'pictures', 'files', 'ideas'));
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    delete from reading_on_demand where kind = 'ideas';
    alter table reading_on_demand drop constraint reading_on_demand_kind_check;
    alter table reading_on_demand add constraint reading_on_demand_kind_check
      check (kind in ('server', 'without', 'actions', 'steps', 'pictures', 'files'));
  `)
}
