import type { Sequelize } from 'sequelize'

/** What visitors looked for by an add-on's words since it was switched off, and by which words. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table retirement add column searched jsonb not null default '[]';
    alter table retirement add column watch_words jsonb;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table retirement drop column searched, drop column watch_words')
}
