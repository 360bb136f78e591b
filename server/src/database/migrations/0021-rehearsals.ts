import type { Sequelize } from 'sequelize'

/** Drafts tried on the real pages, what guards found there, and what of it was accepted. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table rehearsal (
      id serial primary key,
      site_id integer not null references site on delete cascade,
      what text not null,
      mode text not null check (mode in ('guards', 'times')),
      state text not null default 'running' check (state in ('running', 'done', 'stopped', 'failed')),
      live_version integer not null,
      live_rules jsonb not null,
      drafts jsonb not null,
      versions jsonb not null,
      prediction jsonb not null,
      mechanism text not null check (mechanism in ('site', 'rewriter')),
      failure text,
      started_at timestamptz not null default clock_timestamp(),
      finished_at timestamptz
    );
    create index rehearsal_of_site on rehearsal (site_id, id desc);
    create unique index rehearsal_under_way on rehearsal (site_id) where state = 'running';
    create table rehearsal_page (
      rehearsal_id integer not null references rehearsal on delete cascade,
      page_id integer not null references page on delete cascade,
      lens_id integer not null references lens on delete cascade,
      position integer not null,
      state text not null default 'waiting' check (state in ('waiting', 'done', 'failed')),
      failure text,
      readings jsonb not null default '[]',
      guards jsonb not null default '[]',
      boxes jsonb not null default '[]',
      primary key (rehearsal_id, page_id, lens_id)
    );
    create table rehearsal_picture (
      rehearsal_id integer not null,
      page_id integer not null,
      lens_id integer not null,
      turn integer not null,
      jpeg bytea not null,
      width integer not null,
      height integer not null,
      primary key (rehearsal_id, page_id, lens_id, turn),
      foreign key (rehearsal_id, page_id, lens_id) references rehearsal_page on delete cascade
    );
    create table accepted_difference (
      site_id integer not null references site on delete cascade,
      page_id integer not null references page on delete cascade,
      lens_id integer not null references lens on delete cascade,
      drafts text not null,
      guard text not null,
      said jsonb not null,
      note text not null,
      accepted_at timestamptz not null default clock_timestamp(),
      primary key (page_id, lens_id, drafts, guard)
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(
    'drop table accepted_difference; drop table rehearsal_picture; drop table rehearsal_page; drop table rehearsal',
  )
}
