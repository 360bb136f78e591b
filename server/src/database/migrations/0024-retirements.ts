import type { Sequelize } from 'sequelize'

/** Removals of add-ons, step by step. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table retirement (
      id serial primary key,
      site_id integer not null references site on delete cascade,
      slug text not null,
      name text not null,
      version text,
      was_gone boolean not null default false,
      state text not null default 'open' check (state in ('open', 'paused', 'done', 'cancelled')),
      before jsonb not null,
      worklist jsonb not null,
      table_names jsonb not null,
      successor jsonb,
      word jsonb,
      watch_days integer not null default 14 check (watch_days between 0 and 365),
      snapshot jsonb,
      rehearsal_id integer references rehearsal on delete set null,
      missed jsonb not null default '[]',
      leftovers jsonb,
      looked_at timestamptz,
      doing text,
      doing_ids jsonb,
      failure text,
      log jsonb not null default '[]',
      opened_at timestamptz not null default clock_timestamp(),
      off_at timestamptz,
      removed_at timestamptz,
      finished_at timestamptz
    );
    create unique index retirement_under_way on retirement (site_id, slug) where finished_at is null;
    alter table rehearsal add column retirement_id integer references retirement on delete cascade;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table rehearsal drop column retirement_id; drop table retirement')
}
