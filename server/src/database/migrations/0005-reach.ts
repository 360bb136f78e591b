import type { Sequelize } from 'sequelize'

/** Sites on this machine that were registered before were meant to be there. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table site add column local boolean not null default false;
    update site set local = true where address ~ '^https?://([^/]*\\.)?(localhost|127[.][0-9.]+)(:|$)';
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table site drop column local')
}
