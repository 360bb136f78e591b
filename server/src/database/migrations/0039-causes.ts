import type { Sequelize } from 'sequelize'

/** Searches for what a live page complains for. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table cause_search (
      id serial primary key,
      site_id integer not null references site on delete cascade,
      page_id integer not null references page on delete cascade,
      lens_id integer not null references lens on delete cascade,
      kind text not null check (kind in ('errors', 'requests')),
      text text not null,
      state text not null default 'running' check (state in ('running', 'done', 'stopped', 'failed')),
      stages jsonb not null default '[]',
      place text,
      failure text,
      started_at timestamptz not null default now(),
      finished_at timestamptz
    );
    create index cause_search_page on cause_search (page_id, id desc);
    create unique index cause_search_running on cause_search (page_id) where state = 'running';
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table cause_search')
}
