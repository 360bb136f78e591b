import type { Sequelize } from 'sequelize'

/** Pictures of a page as they were found, and as they were made anew. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table reading_on_demand drop constraint reading_on_demand_kind_check;
    alter table reading_on_demand add constraint reading_on_demand_kind_check
      check (kind in ('server', 'without', 'actions', 'steps', 'pictures'));
    create table picture_file (
      reading_on_demand_id integer not null references reading_on_demand on delete cascade,
      n integer not null,
      "as" text not null check ("as" in ('was', 'same', 'webp', 'avif')),
      content bytea not null,
      primary key (reading_on_demand_id, n, "as")
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    drop table picture_file;
    delete from reading_on_demand where kind = 'pictures';
    alter table reading_on_demand drop constraint reading_on_demand_kind_check;
    alter table reading_on_demand add constraint reading_on_demand_kind_check
      check (kind in ('server', 'without', 'actions', 'steps'));
  `)
}
