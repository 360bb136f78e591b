import type { Sequelize } from 'sequelize'

/** Searches for the gentlest effect that works in the place of a draft that breaks something. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table gentle_search (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      rehearsal_id integer not null,
      page_id integer not null,
      lens_id integer not null,
      draft_id text not null,
      drafts jsonb not null,
      effects jsonb not null,
      tries jsonb not null default '[]',
      state text not null default 'running' check (state in ('running', 'done', 'stopped', 'failed')),
      failure text,
      started_at timestamptz not null default clock_timestamp(),
      finished_at timestamptz,
      foreign key (rehearsal_id, page_id, lens_id) references rehearsal_page on delete cascade
    );
    create index gentle_search_of_site on gentle_search (site_id, id desc);
    create unique index gentle_search_under_way on gentle_search (site_id, draft_id) where state = 'running';
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table gentle_search')
}
