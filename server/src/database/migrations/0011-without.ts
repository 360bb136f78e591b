import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table without_reading (
      id integer generated always as identity primary key,
      page_id integer not null references page on delete cascade,
      payers text[] not null,
      hosts text[] not null,
      repeats integer not null,
      sides jsonb not null default '{"with":[],"without":[]}',
      failure text,
      state text not null default 'waiting',
      taken_at timestamptz not null default now()
    );
    create index on without_reading (page_id, id desc);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table without_reading')
}
