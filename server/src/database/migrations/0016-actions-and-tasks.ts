import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table trace_root (
      trace_id text primary key,
      site_id integer references site on delete cascade,
      kind text not null,
      name text not null,
      addon text,
      started_at timestamptz not null,
      ms double precision not null,
      peak_memory_bytes double precision,
      failure text
    );
    create index on trace_root (site_id, kind, name, ms desc);
    create table action_reading (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      wanted integer not null,
      actions jsonb not null default '[]',
      failure text,
      state text not null default 'waiting',
      taken_at timestamptz not null default now()
    );
    create index on action_reading (site_id, id desc);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    drop table trace_root;
    drop table action_reading;
  `)
}
