import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table trace_part (
      id bigint generated always as identity primary key,
      trace_id text not null,
      spans jsonb not null,
      received_at timestamptz not null default now()
    );
    create index on trace_part (trace_id);
    create index on trace_part (received_at);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table trace_part')
}
