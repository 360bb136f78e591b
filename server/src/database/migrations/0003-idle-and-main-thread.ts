import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table toll
      add column idle_bytes bigint not null default 0,
      add column main_thread_ms double precision not null default 0;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table toll drop column idle_bytes, drop column main_thread_ms')
}
