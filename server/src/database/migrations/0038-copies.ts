import type { Sequelize } from 'sequelize'

/** Sweeps that read copies of pages, which the site makes for them; and where each copy is, so that it goes whatever happens. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table sweep add column on_copies boolean not null default false;
    alter table sweep_page add column copy_path text;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table sweep_page drop column copy_path;
    alter table sweep drop column on_copies;
  `)
}
