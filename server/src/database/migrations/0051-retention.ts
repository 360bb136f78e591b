import type { Sequelize } from 'sequelize'

/** Of older sweeps only what they came to may be kept. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table site add keep_full integer check (keep_full > 0);
    alter table sweep add thinned_at timestamptz;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table sweep drop thinned_at; alter table site drop keep_full')
}
