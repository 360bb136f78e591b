import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table server_reading (
      id integer generated always as identity primary key,
      page_id integer not null references page on delete cascade,
      wanted integer not null,
      readings jsonb not null default '[]',
      failure text,
      state text not null default 'waiting',
      taken_at timestamptz not null default now()
    );
    create index on server_reading (page_id, id desc);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table server_reading')
}
