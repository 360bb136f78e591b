import type { Sequelize } from 'sequelize'

/** Sites that have no connector: their pages come from a sitemap, from links or by hand. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`alter table site alter column connector drop not null;
    alter table site add column pages_from text not null default 'connector';
    alter table page add column by_hand boolean not null default false;
    alter table page add column gone boolean not null default false`)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`alter table page drop column gone; alter table page drop column by_hand;
    alter table site drop column pages_from;
    delete from site where connector is null;
    alter table site alter column connector set not null`)
}
