import type { Sequelize } from 'sequelize'

/** A lens that was removed can be brought back; meanwhile another one may have its name. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table lens add column removed_at timestamptz;
    alter table lens drop constraint lens_site_id_name_key;
    create unique index lens_name on lens (site_id, name) where removed_at is null;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    delete from lens where removed_at is not null;
    drop index lens_name;
    alter table lens add constraint lens_site_id_name_key unique (site_id, name);
    alter table lens drop column removed_at;
  `)
}
