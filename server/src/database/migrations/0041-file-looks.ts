import type { Sequelize } from 'sequelize'

/** What a page's scripts and styles could weigh is looked at on demand. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table reading_on_demand drop constraint reading_on_demand_kind_check;
    alter table reading_on_demand add constraint reading_on_demand_kind_check
      check (kind in ('server', 'without', 'actions', 'steps', 'pictures', 'files'));
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    delete from reading_on_demand where kind = 'files';
    alter table reading_on_demand drop constraint reading_on_demand_kind_check;
    alter table reading_on_demand add constraint reading_on_demand_kind_check
      check (kind in ('server', 'without', 'actions', 'steps', 'pictures'));
  `)
}
